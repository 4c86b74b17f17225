/** What other rooms may show of the catalogue. */
export { ItemPanel } from './item-panel';
