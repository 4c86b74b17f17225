// Bundles the terrace command with server, core, contract and demo.
import { rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { bundle } from './bundling.mjs';
import { root } from './prepare.mjs';
import { THREADS } from './threads.mjs';

rmSync(join(root, 'dist'), { recursive: true, force: true });
await bundle({ terrace: 'command/src/main.ts', ...THREADS, openapi: 'server/src/platform/openapi.ts' }, 'dist');
// The description of the API changes with the code alone: made here, it takes no second of a server that starts.
const { describeApi } = await import(pathToFileURL(join(root, 'dist/openapi.js')).href);
writeFileSync(join(root, 'dist/openapi.json'), JSON.stringify(describeApi()));
