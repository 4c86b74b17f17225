// A server with the demo company for a benchmark, and calls to it.
import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import http from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { copyDemo, DEMO_TODAY } from '../lib/demo.mjs';
import { root } from '../lib/prepare.mjs';
import { untilUp } from '../lib/up.mjs';

export const TODAY = DEMO_TODAY;
export const median = (values) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];
export const share = (values, part) => [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * part))];

// Starts the server in a folder of its own and signs in.
export async function serving(port, sockets = 1) {
  const folder = mkdtempSync(join(tmpdir(), 'terrace-bench-'));
  const data = join(folder, 'data');
  copyDemo(data);
  const env = { ...process.env, TERRACE_DATA: data, TERRACE_TODAY: TODAY, TERRACE_PORT: String(port), TERRACE_LOG: 'error' };
  const child = spawn(process.execPath, ['--expose-gc', join(root, 'dist/terrace.js'), 'demo'], { env, stdio: ['ignore', 'ignore', 'inherit'] });
  await untilUp(`http://127.0.0.1:${port}`, child);
  let agent = new http.Agent({ keepAlive: true, maxSockets: sockets });
  let cookie = '';
  const send = (method, path, payload, headers) =>
    new Promise((done, fail) => {
      const request = http.request({ host: '127.0.0.1', port, method, path: `/api${path}`, agent, headers: { cookie, ...headers } }, (response) => {
        const chunks = [];
        response.on('data', (chunk) => chunks.push(chunk));
        response.on('end', () => {
          const text = Buffer.concat(chunks).toString();
          if (response.statusCode !== 200) fail(new Error(`${method} ${path}: ${response.statusCode} ${text.slice(0, 300)}`));
          else
            done({
              json: JSON.parse(text),
              cookie: response.headers['set-cookie']?.find((each) => each.startsWith('terrace.session='))?.split(';')[0] ?? '',
            });
        });
      });
      request.on('error', fail);
      request.end(payload);
    });
  const call = (method, path, body, key) => {
    const payload = body === undefined ? undefined : JSON.stringify(body);
    return send(method, path, payload, {
      ...(payload ? { 'content-type': 'application/json', 'content-length': Buffer.byteLength(payload) } : {}),
      ...(key ? { 'idempotency-key': key } : {}),
    });
  };
  const upload = async (path, name, content) => {
    const form = new FormData();
    form.append('file', new Blob([content]), name);
    const answer = await fetch(`http://127.0.0.1:${port}/api${path}`, { method: 'POST', body: form, headers: { cookie } });
    const json = await answer.json();
    if (!answer.ok) throw new Error(`${path}: ${JSON.stringify(json).slice(0, 300)}`);
    return json;
  };
  cookie = (await call('POST', '/session', { login: 'maren', password: 'larkmoor' })).cookie;
  return {
    call,
    upload,
    port,
    cookie: () => cookie,
    folder,
    database: join(data, 'terrace.db'),
    // Connections that lay idle are closed by the server: begin with fresh ones.
    refresh: () => {
      agent.destroy();
      agent = new http.Agent({ keepAlive: true, maxSockets: sockets });
    },
    // The most memory that the server has had, in MiB.
    peak: () => Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${child.pid}/status`, 'utf8'))?.[1] ?? 0) / 1024,
    stop: async () => {
      child.kill('SIGTERM');
      await new Promise((done) => child.once('exit', done));
      rmSync(folder, { recursive: true, force: true });
      agent.destroy();
    },
  };
}
