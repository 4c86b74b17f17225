/** Files in and out, for the rooms that lead there. */
export { ImportPage } from './import.page';
