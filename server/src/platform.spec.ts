import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import request from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import { backup, restore } from './keeping/backup';
import { checkStore } from './keeping/check';
import { openFile } from './platform/database';
import { readConfig } from './platform/config';
import { openCompany, TODAY, type Client, type Company } from './testing/company';

let company: Company;
let manager: Client;
const { platform, selling, catalogue } = api;

beforeAll(async () => {
  company = await openCompany();
  manager = await company.as('manager');
});
afterAll(() => company.close());

const order = (quantity: string) => ({
  customerId: 1,
  warehouseId: 1,
  requiredDate: '2027-03-12',
  lines: [{ itemId: company.id('item', 'SMOKER'), quantity }],
});

describe('signing in', () => {
  it('takes the right password only, and slows guessing with one name down, however it is written', async () => {
    const attempt = (login: string, password: string) => request(company.terrace.app).post('/api/session').send({ login, password });
    const written = ['buyer', ' buyer', 'BUYER', 'buyer\u00a0', '\u2003Buyer ', 'ｂｕｙｅｒ'];
    for (const login of written) expect((await attempt(login, 'guess')).status).toBe(401);
    for (const login of [...written, 'buyer\u3000']) {
      const slowed = await attempt(login, 'secret');
      expect([slowed.status, (JSON.parse(slowed.text) as { code: string }).code]).toEqual([429, 'tooManyAttempts']);
      expect(Number(slowed.headers['retry-after'])).toBeGreaterThan(0);
    }
  });

  it('keeps everybody else out and ends a session', async () => {
    expect((await request(company.terrace.app).get('/api/selling/orders')).status).toBe(401);
    const sales = await company.as('sales');
    expect((await sales.call(platform.getSession)).user.role).toBe('Sales');
    await sales.call(platform.signOut);
    expect((await sales.agent.get('/api/session')).status).toBe(401);
  });

  it('keeps the password only as a hash, and the cookie out of reach of scripts', async () => {
    const answer = await request(company.terrace.app).post('/api/session').send({ login: 'viewer', password: 'secret' });
    expect(answer.headers['set-cookie']?.[0]).toMatch(/HttpOnly; SameSite=Strict/);
    expect(company.terrace.store.sqlite.prepare('select password_hash from user').pluck().get()).toMatch(/^\$argon2id\$/);
    expect(answer.headers['content-security-policy']).toContain("default-src 'self'");
  });

  it.each(['http://elsewhere.example', 'null', 'about:blank', 'nonsense'])('takes commands from its own pages only, not from %s', async (origin) => {
    const answer = await manager.agent.post('/api/selling/orders').set('Origin', origin).set('Idempotency-Key', 'from-elsewhere').send(order('1'));
    expect([answer.status, (JSON.parse(answer.text) as { code: string }).code]).toEqual([403, 'crossSite']);
  });
});

describe('commands', () => {
  it('happen once however often they are sent, and a key serves one command', async () => {
    const first = await manager.call(selling.createOrder, { body: order('1'), key: 'double-click' });
    const again = await manager.call(selling.createOrder, { body: order('1'), key: 'double-click' });
    expect(again).toEqual(first);
    expect(await manager.refused(selling.createOrder, { body: order('2'), key: 'double-click' })).toMatchObject({ code: 'keyReused' });
    const keyless = await manager.agent.post('/api/selling/orders').send(order('1'));
    expect((JSON.parse(keyless.text) as { code: string }).code).toBe('noKey');
  });

  it('leave no gap in document numbers when they are refused', async () => {
    const before = await manager.call(selling.createOrder, { body: order('1') });
    await manager.refused(selling.createOrder, { body: order('1.5') });
    const after = await manager.call(selling.createOrder, { body: order('1') });
    expect(Number(after.number.slice(3))).toBe(Number(before.number.slice(3)) + 1);
  });

  it('write history that can’t be changed', async () => {
    const made = await manager.call(selling.createOrder, { body: order('1') });
    await manager.call(selling.changeOrder, { params: { id: made.id }, body: { ...order('4'), version: made.version } });
    const [latest] = await manager.call(platform.history, { params: { kind: 'customerOrder', id: made.id } });
    expect(latest).toMatchObject({
      who: 'manager',
      changes: [
        { field: 'total', from: '43.20', to: '172.80' },
        { field: 'lines', from: '1 SMOKER at 36.00', to: '4 SMOKER at 36.00' },
      ],
    });
    for (const table of ['history', 'stock_move', 'journal_entry', 'journal_line']) {
      expect(() => company.terrace.store.sqlite.exec(`update ${table} set id = id`)).toThrow(/append-only/);
      expect(() => company.terrace.store.sqlite.exec(`delete from ${table}`)).toThrow(/append-only/);
    }
  });

  it('are heard by every open screen', async () => {
    const server = company.terrace.app.listen(0);
    const { port } = server.address() as { port: number };
    const signIn = await fetch(`http://127.0.0.1:${port}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ login: 'sales', password: 'secret' }),
    });
    const stop = new AbortController();
    const stream = await fetch(`http://127.0.0.1:${port}/api/live`, {
      headers: { cookie: signIn.headers.getSetCookie().join('; ') },
      signal: stop.signal,
    });
    const reader = stream.body?.pipeThrough(new TextDecoderStream()).getReader();
    await reader?.read();
    const made = await manager.call(selling.createOrder, { body: order('1') });
    const heard = await reader?.read();
    expect(heard?.value).toContain(`"topic":"customerOrder","id":${made.id}`);
    stop.abort();
    server.close();
  });
});

describe('lists', () => {
  it('page, sort, find and filter in the database', async () => {
    const page = await manager.call(catalogue.listItems, { query: { offset: 1, limit: 2, sort: '-code' } });
    expect([page.total, page.rows.map((row) => row.code)]).toEqual([5, ['STRIPS', 'SMOKER']]);
    expect((await manager.call(catalogue.listItems, { query: { find: 'hives fra' } })).rows.map((row) => row.code)).toEqual(['FRAME']);
    const filter = JSON.stringify({ onHand: { op: 'atLeast', value: '20' } });
    expect((await manager.call(catalogue.listItems, { query: { filter } })).rows.map((row) => row.code)).toEqual(['BAR', 'WIRE']);
    expect(await manager.refused(catalogue.listItems, { query: { sort: 'password' } })).toMatchObject({ code: 'unknownField' });
    expect(await manager.refused(catalogue.listItems, { query: { filter: '{' } })).toMatchObject({ code: 'badFilter' });
  });

  const fileOf = async (query: object): Promise<Buffer> => {
    const answer = await manager.agent
      .get('/api/selling/orders')
      .query(query)
      .buffer()
      .parse((response, done) => {
        const chunks: Buffer[] = [];
        response.on('data', (chunk: Buffer) => chunks.push(chunk)).on('end', () => done(null, Buffer.concat(chunks)));
      });
    return answer.body as Buffer;
  };

  it('go out as CSV and XLSX with the columns shown, formulas made safe', async () => {
    await manager.call(selling.createOrder, { body: { ...order('1'), reference: '=1+1' } });
    const csv = await manager.agent
      .get('/api/selling/orders')
      .query({ file: 'csv', columns: 'number:Order,reference:Their reference', find: '=1+1' });
    expect(csv.text).toMatch(/^\uFEFFOrder,Their reference\nCO-\d+,'=1\+1\n$/);
    expect((await fileOf({ file: 'xlsx' })).subarray(0, 2).toString()).toBe('PK');
  });

  it('go out as PDF, drawn elsewhere, each column once', async () => {
    const columns = Array.from({ length: 90 }, () => 'number:Order').join();
    const paper = await fileOf({ file: 'pdf', columns });
    expect(paper.subarray(0, 5).toString()).toBe('%PDF-');
    const csv = await manager.agent.get('/api/selling/orders').query({ file: 'csv', columns, limit: 1 });
    expect(csv.text.split('\n')[0]).toBe('\uFEFFOrder');
    expect(await manager.refused(selling.listOrders, { query: { file: 'pdf', find: 'nothing like it' } })).toMatchObject({ code: 'noColumns' });
  });

  it('guard the titles of a file as they guard its cells', async () => {
    const csv = await manager.agent.get('/api/selling/orders').query({ file: 'csv', columns: 'number:=1+1' });
    expect(csv.text).toMatch(/^\uFEFF'=1\+1\n/);
  });

  it('find items by code, barcode and words in any order, the exact one first', async () => {
    for (const text of ['frame', '2000000000017', 'hives FRAME'])
      expect((await manager.call(catalogue.findItems, { query: { text } }))[0]?.code).toBe('FRAME');
    expect(await manager.call(platform.find, { query: { text: '2000000000017' } })).toMatchObject([{ kind: 'item', title: 'FRAME' }]);
  });
});

describe('the description of the API', () => {
  it('is OpenAPI 3.1 with every route of the contract', async () => {
    const answer = await request(company.terrace.app).get('/api/openapi.json');
    const description = answer.body as { openapi: string; paths: Record<string, Record<string, { operationId: string }>> };
    expect(description.openapi).toBe('3.1.0');
    const operations = Object.values(description.paths).flatMap((path) => Object.values(path).map((each) => each.operationId));
    expect(operations.sort()).toEqual(
      Object.values(api)
        .flatMap((room) => Object.keys(room))
        .sort(),
    );
    expect((await request(company.terrace.app).get('/api/health')).body).toMatchObject({ status: 'up', today: TODAY });
    expect((await manager.agent.get('/api/nothing')).status).toBe(404);
  });
});

describe('keeping data', () => {
  it('backs up online, and restores what it checked', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'terrace-backup-'));
    const file = join(folder, 'monday.backup');
    await backup(company.folder, file);
    const { lines } = await restore(file, join(folder, 'restored'), TODAY);
    expect(lines.filter((line) => !line.holds)).toEqual([]);
    const there = openFile(join(folder, 'restored', 'terrace.db'), { readonly: true });
    expect(there.sqlite.prepare('select count(*) as n from customer_order').get()).toEqual(
      company.terrace.store.sqlite.prepare('select count(*) as n from customer_order').get(),
    );
    there.sqlite.close();
    writeFileSync(join(folder, 'letter.txt'), 'Dear all');
    await expect(restore(join(folder, 'letter.txt'), folder, TODAY)).rejects.toThrow(/no database at all/);
    await expect(restore(join(company.folder, 'terrace.db'), folder, TODAY)).rejects.toThrow(/no backup/);
  });

  it('finds what is wrong', async () => {
    const other = await openCompany();
    const { sqlite } = other.terrace.store;
    sqlite.exec(
      'update balance set quantity = quantity + 100000 where rowid = (select min(rowid) from balance); update cost_pool set value = value + 1 where item_id = 1',
    );
    const wrong = checkStore(other.terrace.store, TODAY)
      .filter((line) => !line.holds)
      .map((line) => line.check);
    expect(wrong).toEqual(
      expect.arrayContaining(['Ledger rebuilt equals balances', 'Pieces valued equal pieces kept', 'Inventory accounts equal the stock ledger']),
    );
    await other.close();
  });

  it('refuses settings that make no sense', () => {
    expect(() => readConfig({ TERRACE_PORT: 'http' }, '/')).toThrow(/port number/);
    expect(() => readConfig({ TERRACE_TODAY: '2027-02-30' }, '/')).toThrow(/TERRACE_TODAY/);
    expect(readConfig({ TERRACE_PROXY: 'loopback, 10.0.0.0/8' }, '/').proxies).toEqual(['loopback', '10.0.0.0/8']);
    for (const wrong of ['everybody', '10.0.0.0/40', '1.2.3', 'true'])
      expect(() => readConfig({ TERRACE_PROXY: wrong }, '/')).toThrow(/TERRACE_PROXY/);
    expect(readConfig({}, '/somewhere')).toMatchObject({ port: 4300, host: '127.0.0.1', dataFolder: '/somewhere/data' });
  });
});
