export { MachinesPage } from './MachinesPage.tsx';
