// Before the tests of the server: its threads as they are now, bundled once for all, where TERRACE_THREADS says. Each would compile the whole server
// otherwise, whenever one begins.
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { bundle } from './bundling.mjs';
import { root } from './prepare.mjs';
import { THREADS } from './threads.mjs';

const FOLDER = 'node_modules/.cache/terrace/threads';

export default async function setUp() {
  rmSync(join(root, FOLDER), { recursive: true, force: true });
  await bundle(THREADS, FOLDER);
  process.env['TERRACE_THREADS'] = join(root, FOLDER);
}
