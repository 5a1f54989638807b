export { TitlesPage } from './TitlesPage.tsx';
