export { png } from './png.ts';
