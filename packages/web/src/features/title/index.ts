export { TitlePage } from './TitlePage.tsx';
