export { JoinPage, SetUpPage, WayBackPage } from './LinkPages.tsx';
export { SignInPage } from './SignInPage.tsx';
