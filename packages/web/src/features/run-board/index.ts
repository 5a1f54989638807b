export { RunBoardPage } from './RunBoardPage.tsx';
export { RunsBesidePage } from './RunsBesidePage.tsx';
