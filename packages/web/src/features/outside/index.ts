export { OutsidePage } from './OutsidePage.tsx';
