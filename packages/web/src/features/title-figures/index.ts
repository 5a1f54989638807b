export { TitleFiguresPage } from './TitleFiguresPage.tsx';
