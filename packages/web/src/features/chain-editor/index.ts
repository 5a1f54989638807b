export { ChainPage } from './ChainPage.tsx';
