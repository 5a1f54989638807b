export { RunBoardPage } from './RunBoardPage.tsx';
