export { RunsPage } from './RunsPage.tsx';
