// How everything of ours is bundled for Node.js: packages stay outside.
import { join } from 'node:path';
import { build } from 'esbuild';
import { root } from './prepare.mjs';

/** Bundles entries (names and files from the root) into a folder. */
export function bundle(entries, folder) {
  return build({
    entryPoints: Object.fromEntries(Object.entries(entries).map(([name, file]) => [name, join(root, file)])),
    outdir: join(root, folder),
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
}
