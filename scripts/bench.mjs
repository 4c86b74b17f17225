// `npm run bench`: prints figures and ratios, each pair taken in one run on this machine.
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { prepareServer, prepareWeb, root } from './lib/prepare.mjs';

prepareServer();
prepareWeb();
const only = process.argv[2];
for (const name of ['orders', 'many', 'imports', 'ledger', 'planning', 'screen', 'first-load', 'requests']) {
  if (only !== undefined && only !== name) continue;
  const { status } = spawnSync(process.execPath, ['--expose-gc', join(root, 'scripts/bench', `${name}.mjs`)], { cwd: root, stdio: 'inherit' });
  if (status !== 0) process.exit(status ?? 1);
}
