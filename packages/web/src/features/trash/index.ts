export { TrashPage } from './TrashPage.tsx';
