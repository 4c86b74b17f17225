// Bundles the terrace command with server, core, contract and demo.
import { rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { bundle } from './bundling.mjs';
import { root } from './prepare.mjs';

rmSync(join(root, 'dist'), { recursive: true, force: true });
await bundle(
  {
    terrace: 'command/src/main.ts',
    'plan-thread': 'server/src/planning/plan-thread.ts',
    'plan-copy-worker': 'server/src/planning/plan-copy-worker.ts',
    'forecast-worker': 'server/src/planning/forecast-worker.ts',
    'list-file-worker': 'server/src/papers/list-file-worker.ts',
    'paper-worker': 'server/src/papers/paper-worker.ts',
    'archive-worker': 'server/src/keeping/archive-worker.ts',
    'backup-worker': 'server/src/keeping/backup-worker.ts',
    'import-worker': 'server/src/bulk/import-worker.ts',
    openapi: 'server/src/platform/openapi.ts',
  },
  'dist',
);
// The description of the API changes with the code alone: made here, it takes no second of a server that starts.
const { describeApi } = await import(pathToFileURL(join(root, 'dist/openapi.js')).href);
writeFileSync(join(root, 'dist/openapi.json'), JSON.stringify(describeApi()));
