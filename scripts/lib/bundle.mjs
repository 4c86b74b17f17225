// Bundles the terrace command with server, core, contract and demo; packages stay outside.
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { build } from 'esbuild';
import { root } from './prepare.mjs';

rmSync(join(root, 'dist'), { recursive: true, force: true });
await build({
  entryPoints: {
    terrace: join(root, 'command/src/main.ts'),
    'plan-thread': join(root, 'server/src/planning/plan-thread.ts'),
    'plan-copy-worker': join(root, 'server/src/planning/plan-copy-worker.ts'),
    'forecast-worker': join(root, 'server/src/planning/forecast-worker.ts'),
    'list-paper-worker': join(root, 'server/src/platform/list-paper-worker.ts'),
    'import-worker': join(root, 'server/src/bulk/import-worker.ts'),
  },
  outdir: join(root, 'dist'),
  bundle: true,
  splitting: true,
  format: 'esm',
  platform: 'node',
  target: 'node20',
  sourcemap: true,
  logLevel: 'warning',
  plugins: [
    {
      name: 'packages stay outside',
      setup: (bundler) =>
        bundler.onResolve({ filter: /^[^./]/ }, ({ path }) =>
          path.startsWith('@terrace/') || path.startsWith('/') ? undefined : { path, external: true },
        ),
    },
  ],
});
