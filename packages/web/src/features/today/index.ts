export { TodayPage } from './TodayPage.tsx';
