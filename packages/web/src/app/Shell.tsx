import { ActionIcon, Tooltip, useComputedColorScheme, useMantineColorScheme } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { IconKeyboard, IconMoon, IconSun } from '@tabler/icons-react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link, Outlet, useLocation, useNavigate } from 'react-router';
import { useServerEvents } from '../api/use-server-events.ts';
import { ListeningStrip } from '../listening/ListeningStrip.tsx';
import { ThumbIndex } from '../thumb-index/index.ts';
import { UploadLines } from '../uploads/index.ts';
import { Content } from './Content.tsx';
import { KeyHelp } from './KeyHelp.tsx';
import classes from './Shell.module.css';

const PLACES = [
  { to: '/', label: 'Today', below: '/today' },
  { to: '/titles', label: 'Titles', below: '/titles' },
  { to: '/chains', label: 'Chains', below: '/chains' },
  { to: '/targets', label: 'Targets', below: '/targets' },
  { to: '/runs', label: 'Runs', below: '/runs' },
  { to: '/storage', label: 'Storage', below: '/storage' },
  { to: '/trash', label: 'Trash', below: '/trash' },
];

/** What stays around every page: name mark, places, the listening strip. */
export function Shell() {
  useServerEvents();
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const [help, { open, close }] = useDisclosure(false);
  const { setColorScheme } = useMantineColorScheme();
  const scheme = useComputedColorScheme();
  useHotkeys('?', open, { useKey: true });
  useHotkeys('g>d', () => void navigate('/'));
  useHotkeys('g>t', () => void navigate('/titles'));
  useHotkeys('g>c', () => void navigate('/chains'));
  useHotkeys('g>a', () => void navigate('/targets'));
  useHotkeys('g>r', () => void navigate('/runs'));
  useHotkeys('g>s', () => void navigate('/storage'));
  useHotkeys('g>x', () => void navigate('/trash'));
  const other = scheme === 'dark' ? 'light' : 'dark';
  return (
    <div className={classes.shell}>
      <a className={classes.skip} href="#content">
        To the page
      </a>
      <nav className={classes.bar} aria-label="Places">
        <Link to="/" className={classes.mark} aria-label="Tonos, today">
          <svg width="14" height="22" viewBox="0 0 14 22" aria-hidden>
            <path d="M5 12 9 3" stroke="currentColor" strokeWidth="3" strokeLinecap="round" />
            <path d="M0 20h14" stroke="currentColor" strokeWidth="1.5" />
          </svg>
          Tonos
        </Link>
        {PLACES.map(({ to, label, below }) => (
          <Link
            key={to}
            to={to}
            className={classes.place}
            aria-current={pathname === to || pathname.startsWith(below) ? 'page' : undefined}
          >
            {label}
          </Link>
        ))}
        <span className={classes.space} />
        <Tooltip label={`Change to the ${other} theme`}>
          <ActionIcon aria-label={`Change to the ${other} theme`} onClick={() => setColorScheme(other)}>
            {scheme === 'dark' ? <IconSun size={18} /> : <IconMoon size={18} />}
          </ActionIcon>
        </Tooltip>
        <Tooltip label="Keys (?)">
          <ActionIcon aria-label="Keys" onClick={open}>
            <IconKeyboard size={20} />
          </ActionIcon>
        </Tooltip>
      </nav>
      <UploadLines />
      <Content>
        <Outlet />
      </Content>
      <ThumbIndex />
      <KeyHelp opened={help} onClose={close} />
      <ListeningStrip />
    </div>
  );
}
