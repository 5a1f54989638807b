export { ModulesPage } from './ModulesPage.tsx';
