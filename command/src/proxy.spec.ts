/**
 * The site of docs/running.md, tried: nginx ends TLS, Terrace believes it, cookies go by TLS only, and what changes comes at
 * once. Where nginx is neither here nor to be had from Debian's packages, it is skipped, and says so.
 */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import type { IncomingMessage } from 'node:http';
import { request } from 'node:https';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { untilUp } from '../../scripts/lib/up.mjs';

const root = fileURLToPath(new URL('../..', import.meta.url));
const PORT = 4385;
const TLS_PORT = 4386;
const folder = mkdtempSync(join(tmpdir(), 'terrace-proxy-'));

/** nginx as it is here, or out of Debian's package, which is unpacked and not installed. */
function findNginx(): string | null {
  if (spawnSync('nginx', ['-v']).status === 0) return 'nginx';
  const got = spawnSync('apt-get', ['download', 'nginx'], { cwd: folder, timeout: 60_000 });
  const file = readdirSync(folder).find((name) => name.endsWith('.deb'));
  if (got.status !== 0 || file === undefined || spawnSync('dpkg', ['-x', file, 'nginx'], { cwd: folder }).status !== 0) return null;
  const program = join(folder, 'nginx/usr/sbin/nginx');
  return spawnSync(program, ['-v']).status === 0 ? program : null;
}

const nginx = spawnSync('openssl', ['version']).status === 0 ? findNginx() : null;
if (nginx === null) process.stdout.write('nginx is not here and can’t be had: the site of docs/running.md is not tried\n');

/** The site as the page has it, with the places of this test in it. */
function site(): string {
  const page = readFileSync(join(root, 'docs/running.md'), 'utf8');
  const [, text = ''] = /```nginx\n([\s\S]+?)```/.exec(page) ?? [];
  expect(text).toContain('proxy_pass http://127.0.0.1:4300;');
  return text
    .replace('listen 443 ssl', `listen 127.0.0.1:${TLS_PORT} ssl`)
    .replace('http://127.0.0.1:4300', `http://127.0.0.1:${PORT}`)
    .replace(/ssl_certificate +\S+;/, `ssl_certificate ${join(folder, 'cert.pem')};`)
    .replace(/ssl_certificate_key +\S+;/, `ssl_certificate_key ${join(folder, 'key.pem')};`);
}

function ask(method: string, path: string, body: object | null, headers: Readonly<Record<string, string>> = {}): Promise<IncomingMessage> {
  return new Promise((done, fail) => {
    const asked = request(
      {
        host: '127.0.0.1',
        port: TLS_PORT,
        method,
        path,
        rejectUnauthorized: false,
        headers: { host: 'terrace.example', 'content-type': 'application/json', ...headers },
      },
      done,
    );
    asked.on('error', fail);
    asked.end(body === null ? undefined : JSON.stringify(body));
  });
}

async function textOf(answer: IncomingMessage): Promise<string> {
  const parts: Buffer[] = [];
  for await (const part of answer) parts.push(part as Buffer);
  return Buffer.concat(parts).toString();
}

describe.skipIf(nginx === null)('behind nginx', () => {
  let terrace: ChildProcess;
  let proxy: ChildProcess;
  let said = '';

  beforeAll(async () => {
    const make = [
      'req',
      '-x509',
      '-newkey',
      'rsa:2048',
      '-nodes',
      '-days',
      '2',
      '-subj',
      '/CN=terrace.example',
      '-keyout',
      'key.pem',
      '-out',
      'cert.pem',
    ];
    expect(spawnSync('openssl', make, { cwd: folder }).status).toBe(0);
    mkdirSync(join(folder, 'temp'));
    const temps = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi'].map((name) => `${name}_temp_path ${join(folder, 'temp', name)};`).join('\n');
    writeFileSync(
      join(folder, 'nginx.conf'),
      `daemon off; pid ${join(folder, 'pid')}; error_log ${join(folder, 'error.log')};\nevents {}\nhttp { access_log off;\n${temps}\n${site()} }\n`,
    );
    const env = { ...process.env, TERRACE_PORT: String(PORT), TERRACE_DATA: join(folder, 'data'), TERRACE_PROXY: 'loopback', TERRACE_LOG: 'silent' };
    terrace = spawn(process.execPath, [join(root, 'dist/terrace.js'), 'serve'], { env, stdio: ['ignore', 'pipe', 'inherit'] });
    terrace.stdout?.on('data', (text: Buffer) => (said += text.toString()));
    await untilUp(`http://127.0.0.1:${PORT}`, terrace);
    proxy = spawn(nginx ?? 'nginx', ['-c', join(folder, 'nginx.conf'), '-p', folder], { stdio: 'ignore' });
    for (let tries = 0; tries < 100; tries += 1) {
      const up = await ask('GET', '/api/health', null).then(
        (answer) => answer.statusCode === 200,
        () => false,
      );
      if (up) return;
      await new Promise((done) => setTimeout(done, 100));
    }
    throw new Error(`nginx does not answer: ${readFileSync(join(folder, 'error.log'), 'utf8')}`);
  }, 120_000);
  afterAll(async () => {
    for (const child of [proxy, terrace]) {
      const ended = new Promise((done) => child.once('exit', done));
      child.kill('SIGTERM');
      await ended;
    }
    rmSync(folder, { recursive: true, force: true });
  });

  it('a company is founded, its cookies go by TLS only, and what changes comes at once', async () => {
    const code = /[2-9A-Z]{4}-[2-9A-Z]{4}/.exec(said)?.[0] ?? '';
    const founding = {
      code,
      company: 'Fernhollow Cider Works',
      address: '',
      country: 'AT',
      currency: { code: 'EUR', name: 'Euro' },
      timeZone: 'Europe/Vienna',
      name: 'Oriel Fernhollow',
      login: 'oriel',
      password: 'lantern copper orchard',
    };
    // As a browser says it: the page and what it asks are of one origin.
    const origin = { origin: 'https://terrace.example' };
    const founded = await ask('POST', '/api/founding', founding, { 'idempotency-key': 'found-it-now', ...origin });
    expect([founded.statusCode, await textOf(founded)]).toEqual([200, '{"login":"oriel"}']);
    const entered = await ask('POST', '/api/session', { login: 'oriel', password: founding.password }, origin);
    await textOf(entered);
    const cookies = entered.headers['set-cookie'] ?? [];
    expect(cookies.length).toBeGreaterThan(0);
    expect(cookies.every((each) => each.includes('; Secure'))).toBe(true);
    const cookie = cookies.map((each) => each.split(';')[0]).join('; ');

    const live = await ask('GET', '/api/live', null, { cookie });
    const heard = new Promise<string>((done) => {
      let text = '';
      live.on('data', (part: Buffer) => {
        text += part.toString();
        if (text.includes('set up unit crate')) done(text);
      });
    });
    const unit = await ask(
      'PUT',
      '/api/catalogue/ground/units',
      { code: 'crate', name: 'crate', decimals: 0 },
      { cookie, 'idempotency-key': 'a-crate-please', ...origin },
    );
    expect(unit.statusCode).toBe(200);
    await textOf(unit);
    expect(await heard).toContain('"topic":"setup"');
    live.destroy();
  });
});
