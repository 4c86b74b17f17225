// `npm run storm`: fifty people at random over the stores for a minute, the server killed three times in between.
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { prepareServer, root } from './lib/prepare.mjs';

prepareServer();
const { status } = spawnSync(process.execPath, [join(root, 'node_modules/vitest/vitest.mjs'), 'run', 'command/src/storm.spec.ts'], {
  cwd: root,
  stdio: 'inherit',
  env: { ...process.env, STORM_SECONDS: process.env.STORM_SECONDS ?? '60' },
});
process.exit(status ?? 1);
