// Runs one file of tests for longer than `npm test` does.
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { root } from './prepare.mjs';

/** Runs it with these settings, unless they are set already; gives its exit code. */
export function runSpec(file, settings) {
  const { status } = spawnSync(process.execPath, [join(root, 'node_modules/vitest/vitest.mjs'), 'run', file], {
    cwd: root,
    stdio: 'inherit',
    env: { ...settings, ...process.env },
  });
  return status ?? 1;
}
