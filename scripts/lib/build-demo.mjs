// Builds the demo company of the tests, with the attachments of its mails drawn: a process of its own, begun by prepareDemo (prepare.mjs).
import { spawn } from 'node:child_process';
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { DEMO, DEMO_TODAY } from './demo.mjs';
import { root } from './prepare.mjs';
import { sessionOf, untilUp } from './up.mjs';

const PORT = 4389;
const EVERY_MS = 200;

const url = `http://127.0.0.1:${PORT}`;
rmSync(DEMO, { recursive: true, force: true });
mkdirSync(DEMO, { recursive: true });
const env = { ...process.env, TERRACE_PORT: String(PORT), TERRACE_DATA: DEMO, TERRACE_TODAY: DEMO_TODAY, TERRACE_LOG: 'error' };
const terrace = spawn(process.execPath, [join(root, 'dist/terrace.js'), 'demo', '--reset'], { env, stdio: ['ignore', 'ignore', 'inherit'] });
const ended = new Promise((done) => terrace.once('exit', done));
try {
  await untilUp(url, terrace);
  const headers = { 'content-type': 'application/json' };
  const session = await fetch(`${url}/api/session`, { method: 'POST', headers, body: JSON.stringify({ login: 'wilder', password: 'larkmoor' }) });
  const cookie = sessionOf(session);
  for (let left = 1; left > 0;) {
    const { rows } = await (await fetch(`${url}/api/outbox?limit=500`, { headers: { cookie } })).json();
    if (rows.length === 0) throw new Error('the demo company has no mails');
    left = rows.filter(({ attachment }) => attachment === null).length;
    if (left > 0) await new Promise((done) => setTimeout(done, EVERY_MS));
  }
} finally {
  terrace.kill('SIGTERM');
  await ended;
}
