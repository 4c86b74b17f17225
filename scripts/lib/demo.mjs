// The demo company that tests begin with: built once for all of them (prepareDemo), copied by each.
import { cpSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** Where it lies. */
export const DEMO = fileURLToPath(new URL('../../node_modules/.cache/terrace/demo', import.meta.url));
/** The day of which it is. */
export const DEMO_TODAY = '2027-03-01';

/** Copies it into a folder. */
export function copyDemo(folder) {
  mkdirSync(folder, { recursive: true });
  cpSync(DEMO, folder, { recursive: true, filter: (path) => path !== join(DEMO, 'lock') });
}
