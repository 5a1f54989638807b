export { AccountPage } from './AccountPage.tsx';
export { PeoplePage } from './PeoplePage.tsx';
export { YouPage } from './YouPage.tsx';
