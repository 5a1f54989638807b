export { ChainsPage } from './ChainsPage.tsx';
