// The terrace command, with its own set-up: `npm run -s terrace -- <command>`.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { prepareServer, prepareWeb, root } from './lib/prepare.mjs';

const args = process.argv.slice(2);
prepareServer();
if (args[0] === 'demo' || args[0] === 'serve') prepareWeb();
const child = spawn(process.execPath, ['--enable-source-maps', join(root, 'dist/terrace.js'), ...args], { stdio: 'inherit' });
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill(signal));
child.on('exit', (code, signal) => process.exit(signal ? 1 : code));
