export { StoragePage } from './StoragePage.tsx';
