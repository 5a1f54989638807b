import { type CSSVariablesResolver, createTheme, type MantineColorsTuple } from '@mantine/core';
import segments from './Segments.module.css';

/** Mantine wants ten shades; ours are the same token in both themes, so that every standard component follows the tokens. */
const shades = (token: string): MantineColorsTuple =>
  Array.from({ length: 10 }, () => `var(--${token})`) as unknown as MantineColorsTuple;

export const theme = createTheme({
  primaryColor: 'act',
  colors: { act: shades('act'), over: shades('over'), within: shades('within') },
  fontFamily: 'var(--word)',
  fontFamilyMonospace: 'var(--figure)',
  fontSizes: { xs: '12px', sm: '13.5px', md: '15px', lg: '17px', xl: '19px' },
  headings: {
    fontFamily: 'var(--head)',
    fontWeight: '500',
    sizes: { h1: { fontSize: '27px', lineHeight: '1.2' }, h2: { fontSize: '19px', lineHeight: '1.3' } },
  },
  defaultRadius: 3,
  cursorType: 'pointer',
  focusRing: 'auto',
  components: {
    Button: { defaultProps: { size: 'sm' } },
    // what is chosen from is made when it is opened
    Combobox: { defaultProps: { keepMounted: false } },
    ActionIcon: { defaultProps: { variant: 'subtle' } },
    Notification: {
      defaultProps: { closeButtonProps: { 'aria-label': 'Close' } },
      styles: { description: { color: 'var(--ink-2)' } },
    },
    Drawer: { defaultProps: { closeButtonProps: { 'aria-label': 'Close' } } },
    Modal: {
      defaultProps: {
        closeButtonProps: { 'aria-label': 'Close' },
        centered: true,
        overlayProps: { backgroundOpacity: 0.35 },
        transitionProps: { duration: 0 },
      },
    },
    SegmentedControl: {
      classNames: { root: segments.root, indicator: segments.indicator, label: segments.label },
    },
    Tooltip: { defaultProps: { openDelay: 400 } },
  },
});

const SHARED = {
  '--mantine-color-body': 'var(--paper)',
  '--mantine-color-text': 'var(--ink)',
  '--mantine-color-dimmed': 'var(--ink-2)',
  '--mantine-color-placeholder': 'var(--ink-3)',
  '--mantine-color-error': 'var(--over)',
  '--mantine-color-default': 'var(--sheet)',
  '--mantine-color-default-hover': 'var(--wash)',
  '--mantine-color-default-color': 'var(--ink)',
  '--mantine-color-default-border': 'var(--rule-strong)',
  '--mantine-color-anchor': 'var(--act)',
  '--mantine-primary-color-filled': 'var(--act)',
  '--mantine-primary-color-filled-hover': 'var(--act-strong)',
  '--mantine-primary-color-light': 'var(--act-wash)',
  '--mantine-primary-color-light-hover': 'var(--act-wash)',
  '--mantine-primary-color-light-color': 'var(--act)',
  '--mantine-primary-color-contrast': 'var(--on-act)',
  '--mantine-color-act-filled': 'var(--act)',
  '--mantine-color-act-filled-hover': 'var(--act-strong)',
  '--mantine-color-act-light': 'var(--act-wash)',
  '--mantine-color-act-light-hover': 'var(--act-wash)',
  '--mantine-color-act-light-color': 'var(--act)',
  '--mantine-color-act-outline': 'var(--act)',
  '--mantine-color-gray-0': 'var(--wash)',
  '--mantine-color-dark-7': 'var(--wash)',
  '--mantine-color-gray-4': 'var(--rule-strong)',
  '--mantine-color-dark-4': 'var(--rule-strong)',
  '--mantine-color-dark-6': 'var(--sheet)',
  '--mantine-color-white': 'var(--on-act)',
};

export const variables: CSSVariablesResolver = () => ({ variables: {}, light: SHARED, dark: SHARED });
