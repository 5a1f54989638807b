export { AccountPage } from './AccountPage.tsx';
export { ForMePage } from './ForMePage.tsx';
export { PeoplePage } from './PeoplePage.tsx';
export { YouPage } from './YouPage.tsx';
