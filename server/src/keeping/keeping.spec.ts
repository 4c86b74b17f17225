/** What is kept, and how it is copied, put back, and known to be damaged. */
import { spawn } from 'node:child_process';
import { chmodSync, existsSync, mkdirSync, mkdtempSync, readFileSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Encrypter } from 'age-encryption';
import { afterAll, beforeAll, describe, expect, it, onTestFinished, vi } from 'vitest';
import { api } from '@terrace/contract';
import { openFile, openStore, openToLook } from '../platform/database';
import { closeFile, copyFile } from '../platform/database-file';
import { inFolder, lockFolder } from '../platform/folder-lock';
import { openTerrace } from '../app';
import { isPlanWhole, openPlanFile, openPlanToRead } from '../planning/plan-file';
import { openCompany, migrationsFolder, TODAY, type Client, type Company } from '../testing/company';
import { backup, restore } from './backup';

const folder = mkdtempSync(join(tmpdir(), 'terrace-keeping-'));
let company: Company;
let manager: Client;

beforeAll(async () => {
  company = await openCompany();
  manager = await company.as('manager');
});
afterAll(async () => {
  await company.close();
  rmSync(folder, { recursive: true, force: true });
});

const mode = (path: string): string => (statSync(path).mode & 0o777).toString(8);
const order = () => ({
  body: { customerId: 1, warehouseId: 1, requiredDate: '2027-03-12', lines: [{ itemId: company.id('item', 'SMOKER'), quantity: '1' }] },
});

describe('a data folder', () => {
  it('is for its owner only, with all that is in it, also when it was there before', async () => {
    const open = join(folder, 'open');
    mkdirSync(join(open, 'files'), { recursive: true });
    writeFileSync(join(open, 'plan.db'), '');
    for (const each of [open, join(open, 'files')]) chmodSync(each, 0o755);
    chmodSync(join(open, 'plan.db'), 0o644);
    await inFolder(open, 'a test', () => closeFile(openStore(open, migrationsFolder)));
    expect([mode(open), mode(join(open, 'files'))]).toEqual(['700', '700']);
    for (const name of readdirSync(open).filter((each) => each !== 'files')) expect([name, mode(join(open, name))]).toEqual([name, '600']);
  });

  it('belongs to one at a time, who is named; and to nobody once their process has ended, however it did', async () => {
    const shared = join(folder, 'shared');
    const lock = lockFolder(shared, 'the server');
    expect(() => lockFolder(shared, 'a restore')).toThrow(new RegExp(`in use: the server \\(process ${process.pid}\\)`));
    await expect(inFolder(shared, 'a migration', () => undefined)).rejects.toThrow(/Stop that first/);
    lock.release();
    await inFolder(shared, 'a migration', () => undefined);
    const script = `const s=require('better-sqlite3');const d=new s(${JSON.stringify(join(shared, 'terrace.lock'))});d.pragma('locking_mode=EXCLUSIVE');d.exec('begin exclusive');console.log('held');setInterval(()=>{},1000)`;
    const other = spawn(process.execPath, ['-e', script], { cwd: join(import.meta.dirname, '../../..'), stdio: ['ignore', 'pipe', 'inherit'] });
    await new Promise((done) => other.stdout.once('data', done));
    writeFileSync(join(shared, 'terrace.lock.json'), JSON.stringify({ what: 'the server', pid: other.pid, since: 'then' }));
    expect(() => lockFolder(shared, 'a restore')).toThrow(new RegExp(`process ${other.pid ?? 0}`));
    const ended = new Promise((done) => other.once('exit', done));
    other.kill('SIGKILL');
    await ended;
    lockFolder(shared, 'a restore').release();
  });

  it('that is mistyped, empty or no folder of Terrace is not made into one by looking at it', () => {
    const nowhere = join(folder, 'nowhere');
    expect(() => openToLook(nowhere)).toThrow(/there is no company in .*nowhere.*terrace\.db is missing/);
    expect(existsSync(nowhere)).toBe(false);
    mkdirSync(nowhere);
    writeFileSync(join(nowhere, 'terrace.db'), '');
    expect(() => openToLook(nowhere)).toThrow(/terrace\.db is damaged: it is empty/);
    expect(() => openStore(nowhere, migrationsFolder)).toThrow(/is empty/);
    writeFileSync(join(nowhere, 'terrace.db'), 'Dear all, this is no database, however long the letter is.'.repeat(100));
    expect(() => openStore(nowhere, migrationsFolder)).toThrow(/terrace\.db can't be opened: file is not a database/);
    const other = openFile(join(folder, 'other', 'terrace.db'));
    other.sqlite.exec('create table letter (id integer)');
    closeFile(other);
    expect(() => openToLook(join(folder, 'other'))).toThrow(/not one of Terrace/);
  });

  it('is swept of what a full disk or a kill left half written', async () => {
    const swept = join(folder, 'swept');
    for (const each of ['files', 'imports']) mkdirSync(join(swept, each), { recursive: true });
    const left = [join('files', 'half.part'), join('imports', 'half.part'), join('imports', '7.json.db-wal')];
    for (const each of left) writeFileSync(join(swept, each), 'half');
    writeFileSync(join(swept, 'imports', '7.json'), '[]');
    const terrace = openTerrace(
      { port: 0, host: '127.0.0.1', dataFolder: swept, today: TODAY, logLevel: 'silent' },
      { migrationsFolder, webFolder: null, clock: { today: () => TODAY, now: () => `${TODAY}T09:00:00.000Z` }, planHere: true },
    );
    await terrace.close();
    expect(left.filter((each) => existsSync(join(swept, each)))).toEqual([]);
    expect(existsSync(join(swept, 'imports', '7.json'))).toBe(true);
  });

  it('that a kill left half begun begins anew', () => {
    const begun = join(folder, 'begun');
    mkdirSync(begun);
    writeFileSync(join(begun, 'terrace.db.part'), 'half of it');
    closeFile(openStore(begun, migrationsFolder));
    expect(readdirSync(begun).filter((each) => each.includes('part'))).toEqual([]);
  });
});

describe('a backup', () => {
  it('holds no session and nothing to make one with, and is for its owner only', async () => {
    const file = join(folder, 'monday.backup');
    await backup(company.folder, file);
    expect(mode(file)).toBe('600');
    const { sqlite } = company.terrace.store;
    const secret = sqlite.prepare("select value from setting where key = 'sessionSecret'").pluck().get() as string;
    const session = sqlite.prepare('select id from session').pluck().get() as string;
    expect([secret.length > 20, session.length > 20]).toEqual([true, true]);
    const bytes = readFileSync(file).toString('latin1');
    expect([bytes.includes(secret), bytes.includes(session)]).toEqual([false, false]);
    expect(readdirSync(folder).filter((each) => each.includes('.part'))).toEqual([]);
  });

  it('can be encrypted; without its passphrase, or with one byte changed, nothing of it is restored', async () => {
    // What makes guessing a passphrase slow is spared here: each look would take seconds.
    const quick = vi.spyOn(Encrypter.prototype, 'setPassphrase').mockImplementation(function (this: Encrypter, passphrase) {
      Object.assign(this, { passphrase, scryptWorkFactor: 2 });
    });
    onTestFinished(() => quick.mockRestore());
    const file = join(folder, 'sealed.backup');
    await backup(company.folder, file, 'three words and more');
    expect(readFileSync(file).toString('latin1')).toMatch(/^age-encryption\.org\/v1/);
    expect(readFileSync(file).toString('latin1')).not.toContain('SQLite format');
    const into = join(folder, 'from-sealed');
    await expect(restore(file, into, TODAY)).rejects.toThrow(/TERRACE_PASSPHRASE/);
    await expect(restore(file, into, TODAY, 'other words entirely')).rejects.toThrow(/can't be decrypted/);
    const changed = readFileSync(file);
    changed[changed.length - 100] = (changed[changed.length - 100] ?? 0) ^ 1;
    writeFileSync(join(folder, 'changed.backup'), changed);
    await expect(restore(join(folder, 'changed.backup'), into, TODAY, 'three words and more')).rejects.toThrow(/damaged/);
    expect(readdirSync(into)).toEqual([]);
    const { lines, kept } = await restore(file, into, TODAY, 'three words and more');
    expect([lines.every((each) => each.holds), kept]).toEqual([true, null]);
    await expect(backup(company.folder, join(folder, 'short.backup'), 'short')).rejects.toThrow(/at least 12/);
    expect(existsSync(join(folder, 'short.backup'))).toBe(false);
  }, 60_000);

  it('that is restored again and again keeps each company that was there, under a name of its own', async () => {
    const file = join(folder, 'again.backup');
    await backup(company.folder, file);
    const into = join(folder, 'again');
    const kept: (string | null)[] = [];
    for (let time = 0; time < 3; time += 1) kept.push((await restore(file, into, TODAY)).kept);
    expect(kept[0]).toBeNull();
    expect(new Set(kept).size).toBe(3);
    for (const each of kept.slice(1)) closeFile(openFile(each ?? '', { readonly: true, fileMustExist: true }));
    expect(readdirSync(into).filter((each) => /restoring|\.part/.test(each))).toEqual([]);
  });

  it('of a folder that is mistyped says so, and of one whose log can’t be read ends with a word', async () => {
    await expect(backup(join(folder, 'mistyped'), join(folder, 'none.backup'))).rejects.toThrow(/there is no company/);
    expect(existsSync(join(folder, 'none.backup'))).toBe(false);
    const held = join(folder, 'held.db');
    const holder = openFile(held);
    holder.sqlite.exec('create table thing (id integer); pragma locking_mode = EXCLUSIVE; begin exclusive; insert into thing values (1)');
    await expect(copyFile(held, join(folder, 'held.copy'), 300)).rejects.toThrow(/can't be copied: .*read-only|database is locked/);
    closeFile(holder);
  });
});

/** Writes nonsense over the plan's file, under whoever reads it. */
function spoil({ folder: data, terrace }: Company): void {
  terrace.store.plan?.sqlite.pragma('cache_size = 0');
  for (const ending of ['', '-wal']) {
    const file = join(data, `plan.db${ending}`);
    writeFileSync(file, Buffer.alloc(statSync(file).size, 0x55), { flag: 'r+' });
  }
}

describe('the plan’s file', () => {
  it('that is damaged while it is in use is made anew by itself: until then "planning anew", and nobody else notices', async () => {
    const other = await openCompany();
    try {
      const buyer = await other.as('manager');
      const rows = async () => (await buyer.attempt(api.planning.listSuggestions)) as { status: number; body: { code?: string; total?: number } };
      const before = (await rows()).body.total;
      spoil(other);
      await vi.waitFor(async () => {
        const { status, body } = await rows();
        expect([status, body.code]).toEqual([503, 'planningAnew']);
      });
      // What has nothing to do with the plan goes on.
      await buyer.call(api.selling.createOrder, { body: { ...order().body } });
      await buyer.call(api.platform.today);
      await vi.waitFor(async () => {
        const { status, body } = await rows();
        expect([status, body.total]).toEqual([200, before]);
      });
      // Whoever only looks into it by the way does not notice, not even the one who finds it damaged.
      spoil(other);
      expect((await buyer.call(api.selling.createOrder, { body: { ...order().body, confirm: true } })).state).toBe('confirmed');
      await vi.waitFor(async () => expect((await rows()).status).toBe(200));
      const { rows: notices } = await buyer.call(api.platform.notices);
      expect(notices.map((each) => each.text).join()).toContain('made anew');
      other.sound();
    } finally {
      await other.close();
    }
  });

  it('that can’t be made anew at once is tried again until it can; files of other lists can be taken meanwhile', async () => {
    const other = await openCompany();
    try {
      const buyer = await other.as('manager');
      const file = join(other.folder, 'plan.db');
      spoil(other);
      for (const ending of ['', '-wal', '-shm']) rmSync(`${file}${ending}`, { force: true });
      // Something that is no file stands in its place.
      mkdirSync(join(file, 'in the way'), { recursive: true });
      const listed = async (): Promise<number> => (await buyer.attempt(api.planning.listSuggestions)).status;
      await vi.waitFor(async () => expect(await listed()).toBe(503));
      const orders = await buyer.agent.get('/api/selling/orders').query({ file: 'csv', columns: 'number:Order' });
      expect([orders.status, orders.text.slice(1, 6)]).toEqual([200, 'Order']);
      rmSync(file, { recursive: true });
      await vi.waitFor(async () => expect(await listed()).toBe(200), { timeout: 20_000, interval: 300 });
    } finally {
      await other.close();
    }
  });

  it('that can’t be opened at the start is made anew', async () => {
    const data = join(folder, 'unplanned');
    await restore(join(folder, 'again.backup'), data, TODAY);
    writeFileSync(join(data, 'plan.db'), 'no database'.repeat(1000));
    const heard: string[] = [];
    closeFile(openPlanFile(data, (each) => heard.push(each)));
    expect(heard).toEqual([join(data, 'plan.db')]);
    const read = openPlanToRead(data);
    expect(isPlanWhole(read)).toBe(true);
    closeFile(read);
  });
});

describe('who asks while nothing can be written', () => {
  it('hears that the disk is full, and that nothing was changed', async () => {
    const { sqlite } = company.terrace.store;
    const pages = sqlite.pragma('page_count', { simple: true }) as number;
    const before = company.everything();
    sqlite.pragma(`max_page_count = ${pages}`);
    try {
      let problem: { status: number; body: unknown } = { status: 200, body: {} };
      for (let at = 0; at < 400 && problem.status === 200; at += 1)
        problem = await manager.attempt(api.selling.createOrder, { body: { ...order().body, note: 'x'.repeat(1900) } });
      expect(problem).toMatchObject({ status: 507, body: { code: 'diskFull', detail: expect.stringContaining('nothing was changed') as string } });
    } finally {
      sqlite.pragma('max_page_count = 1073741823');
    }
    await manager.call(api.selling.createOrder, order());
    expect(company.everything()).not.toBe(before);
    company.sound();
  });
});
