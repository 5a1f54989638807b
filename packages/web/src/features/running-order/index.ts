export { OrderPage } from './OrderPage.tsx';
