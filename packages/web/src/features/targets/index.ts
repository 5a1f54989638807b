export { TargetsPage } from './TargetsPage.tsx';
