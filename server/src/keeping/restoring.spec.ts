/** A backup put back from the screen: what was entered since is gone, what was there is kept beside, and serving goes on. */
import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { serveFolder, type Serving } from '../serve';
import { migrationsFolder, TODAY } from '../testing/company';

const PASSWORD = 'drawn combs in autumn';
const folder = mkdtempSync(join(tmpdir(), 'terrace-restoring-'));
let base = '';
let serving: Serving;
let cookie = '';
let begun = 0;
let keys = 0;

async function freePort(): Promise<number> {
  const server = createServer();
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  const { port } = server.address() as AddressInfo;
  await new Promise((done) => server.close(done));
  return port;
}

async function ask(method: string, path: string, body?: object): Promise<Response> {
  const headers = { 'content-type': 'application/json', cookie, 'Idempotency-Key': `restoring-${(keys += 1)}` };
  return fetch(`${base}${path}`, { method, headers, ...(body ? { body: JSON.stringify(body) } : {}) });
}

async function signIn(): Promise<void> {
  const answer = await ask('POST', '/session', { login: 'oriel', password: PASSWORD });
  expect(answer.status).toBe(200);
  cookie = answer.headers
    .getSetCookie()
    .map((each) => each.split(';')[0])
    .join('; ');
}
const company = async (): Promise<string> => ((await (await ask('GET', '/session/welcome')).json()) as { company: string }).company;

async function rename(to: string): Promise<void> {
  const house = (await (await ask('GET', '/setup/house')).json()) as Record<string, unknown>;
  expect((await ask('PUT', '/setup/house', { ...house, company: to })).status).toBe(200);
}
async function backUp(): Promise<string> {
  const { backups } = (await (await ask('POST', '/setup/keeping/backups', {})).json()) as { backups: { name: string }[] };
  return backups[0]?.name ?? '';
}

beforeEach(async () => {
  const port = await freePort();
  base = `http://127.0.0.1:${port}/api`;
  let code = '';
  serving = await serveFolder(
    { port, host: '127.0.0.1', dataFolder: join(folder, String(port)), today: TODAY, logLevel: 'silent' },
    { migrationsFolder, webFolder: null, planHere: true },
    (terrace) => {
      begun += 1;
      code = terrace.code?.code ?? '';
    },
  );
  const founding = { company: 'Fernhollow', address: '', country: 'AT', currency: { code: 'EUR', name: 'Euro' }, timeZone: 'UTC' };
  const answer = await ask('POST', '/founding', { ...founding, code, name: 'Oriel', login: 'oriel', password: PASSWORD });
  expect(await answer.text()).toBe('{"login":"oriel"}');
  await signIn();
  begun = 0;
});
afterEach(async () => {
  await serving.end();
  rmSync(folder, { recursive: true, force: true });
});

describe('a backup put back from the screen', () => {
  it('takes the place of what is there, which is kept beside; everybody signs in again and is told', async () => {
    const name = await backUp();
    await rename('Fernhollow and Sons');
    expect((await ask('POST', `/setup/keeping/backups/${name}/restore`)).status).toBe(200);
    await expect.poll(() => begun, { timeout: 20_000 }).toBe(1);
    expect(await company()).toBe('Fernhollow');
    expect((await ask('GET', '/setup/house')).status).toBe(401);
    await signIn();
    const notices = (await (await ask('GET', '/notices')).json()) as { rows: { text: string }[] };
    expect(notices.rows[0]?.text).toMatch(/was put back; what was there is kept as terrace\.db\.before-restore-/);
    const data = join(folder, readdirSync(folder)[0] ?? '');
    expect(readdirSync(data).some((each) => each.startsWith('terrace.db.before-restore-'))).toBe(true);
  });

  it('that is damaged leaves everything as it was, and says so', async () => {
    const name = await backUp();
    await rename('Fernhollow and Sons');
    const data = join(folder, readdirSync(folder)[0] ?? '');
    writeFileSync(join(data, 'backups', name), 'no database at all, but long enough to be looked at');
    expect((await ask('POST', `/setup/keeping/backups/${name}/restore`)).status).toBe(200);
    await expect.poll(() => begun, { timeout: 20_000 }).toBe(1);
    expect(await company()).toBe('Fernhollow and Sons');
    const notices = (await (await ask('GET', '/notices')).json()) as { rows: { text: string }[] };
    expect(notices.rows[0]?.text).toMatch(/was not put back: .*no database at all/);
  });

  it('has to be there', async () => {
    const answer = await ask('POST', '/setup/keeping/backups/terrace-20270301-020000.backup/restore');
    expect(((await answer.json()) as { code: string }).code).toBe('notFound');
  });
});
