/** What somebody may try who means ill, over HTTP: what holds the door, and what they find out. */
import { createServer, type Server } from 'node:http';
import { connect, type AddressInfo, type Socket } from 'node:net';
import request from 'supertest';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { api } from '@terrace/contract';
import { setRow } from './platform/rows';
import { user } from './platform/schema';
import { AtOnce } from './platform/at-once';
import { Watch, type Held } from './platform/watch';
import { openCompany, type Client, type Company, somebody } from './testing/company';

let company: Company;
let administrator: Client;
let server: Server;
let base: string;

beforeAll(async () => {
  company = await openCompany();
  administrator = await company.as('administrator');
  server = createServer(company.terrace.app);
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(async () => {
  server.closeAllConnections();
  server.close();
  await company.close();
});

const signIn = (login: string, password = 'secret', cookie = '') =>
  fetch(`${base}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', ...(cookie === '' ? {} : { cookie }) },
    body: JSON.stringify({ login, password }),
  });
const cookiesOf = (answer: Response): string =>
  answer.headers
    .getSetCookie()
    .map((each) => each.split(';')[0])
    .join('; ');
const audit = async (what: string) => {
  await company.terrace.audit.keep();
  const filter = JSON.stringify({ what: { op: 'equals', value: what } });
  return (await administrator.call(api.platform.audit, { query: { filter } })).rows;
};

describe('whoever guesses', () => {
  it('finds names and passwords of a bounded length only, refused before anything is kept of them', async () => {
    const before = process.memoryUsage().heapUsed;
    for (let at = 0; at < 40; at += 1) {
      const answer = await signIn(`${at}${'x'.repeat(1_900_000)}`);
      expect(answer.status).toBe(413);
    }
    for (const [login, password] of [
      ['x'.repeat(81), 'p'],
      ['sales', 'p'.repeat(201)],
    ] as const)
      expect((await signIn(login, password)).status).toBe(400);
    expect(process.memoryUsage().heapUsed - before).toBeLessThan(120 * 1024 * 1024);
  });

  it('does not keep the owner of a name out who has signed in on this device before, and who is told at the next sign-in', async () => {
    const device = cookiesOf(await signIn('sales'));
    for (let guess = 0; guess < 8; guess += 1) await signIn('SALES ', 'guess');
    expect((await signIn('sales')).status).toBe(429);
    const answer = await signIn('sales', 'secret', device);
    expect(answer.status).toBe(200);
    const { attempts } = (await answer.json()) as { attempts: { count: number; from: string; lastAt: string } };
    expect(attempts).toMatchObject({ count: 9, from: expect.stringMatching(/127\.0\.0\.1/) as string });
    const again = (await (await signIn('sales', 'secret', device)).json()) as { attempts: object | null };
    expect(again.attempts).toBeNull();
  });

  it('may try so often in a minute from one address, whatever name they take each time', async () => {
    const other = await openCompany();
    const codes: number[] = [];
    for (let at = 0; at < 125; at += 1)
      codes.push(
        (
          await request(other.terrace.app)
            .post('/api/session')
            .send({ login: `name-${at}`, password: 'x' })
        ).status,
      );
    const last = await request(other.terrace.app).post('/api/session').send({ login: 'administrator', password: 'secret' });
    expect([codes.filter((each) => each === 401).length, last.status]).toEqual([31, 429]);
    expect(last.text).toContain('from your address');
    await other.close();
  });
});

describe('behind a reverse proxy', () => {
  it('that is named, people have addresses of their own and cookies that go by TLS only; what others say of themselves is not believed', async () => {
    const behind = await openCompany({ proxies: ['loopback'] });
    try {
      const told = { 'X-Forwarded-For': '203.0.113.9', 'X-Forwarded-Proto': 'https' };
      const addressOf = async (one: Company): Promise<[string, string]> => {
        const answer = await request(one.terrace.app).post('/api/session').set(told).send({ login: 'administrator', password: 'secret' });
        await one.terrace.audit.keep();
        const address = one.terrace.store.sqlite.prepare('select address from audit order by id desc limit 1').pluck().get() as string;
        return [address, String(answer.headers['set-cookie'])];
      };
      const [address, cookies] = await addressOf(behind);
      expect([address, cookies.match(/; Secure/g)?.length]).toEqual(['203.0.113.9', 2]);
      const [unbelieved, plain] = await addressOf(company);
      expect([unbelieved.includes('203.0.113.9'), plain.includes('; Secure')]).toEqual([false, false]);
      // Guesses from one address of many do not slow down the others behind the same proxy.
      const guess = (from: string) =>
        request(behind.terrace.app)
          .post('/api/session')
          .set('X-Forwarded-For', from)
          .send({ login: `name-${from}-${Math.random()}`, password: 'x' });
      for (let at = 0; at < 31; at += 1) await guess('203.0.113.50');
      expect((await guess('203.0.113.50')).status).toBe(429);
      expect((await guess('203.0.113.51')).status).toBe(401);
    } finally {
      await behind.close();
    }
  });
});

describe('the audit log', () => {
  it('tells of sign-ins, of rights refused, of set-up changed and of files taken, with who and from where, and keeps nothing secret', async () => {
    const viewer = await company.as('viewer');
    await viewer.refused(api.planning.runPlan);
    await administrator.call(api.catalogue.saveCurrency, { body: { code: 'SEK', name: 'Swedish krona' } });
    await administrator.agent.get('/api/selling/orders').query({ file: 'csv', columns: 'number:Order' });
    await request(company.terrace.app).post('/api/session').send({ login: 'my-own-password-typed-here', password: 'x' });
    await request(company.terrace.app).post('/api/session').send({ login: 'viewer', password: 'a-secret-guess' });
    expect((await audit('rightRefused'))[0]).toMatchObject({
      who: 'viewer',
      route: 'POST /api/planning/plan',
      outcome: 'notAllowed',
      detail: 'planning.run',
    });
    expect((await audit('setupChanged'))[0]).toMatchObject({ who: 'administrator', detail: 'set currency SEK', outcome: 'done' });
    expect((await audit('fileTaken'))[0]).toMatchObject({
      who: 'administrator',
      route: 'GET /api/selling/orders',
      detail: expect.stringMatching(/as CSV/) as string,
    });
    expect((await audit('signInFailed')).slice(0, 2)).toMatchObject([
      { who: 'viewer', outcome: 'wrongPassword' },
      { who: '', outcome: 'unknownName' },
    ]);
    const all = JSON.stringify((await administrator.call(api.platform.audit)).rows);
    expect(all).not.toMatch(/my-own-password|a-secret-guess|secret/);
    for (const each of await audit('signedIn')) expect(each.address).not.toBe('');
  });

  it('is for administrators, can be taken as a file, and can’t be changed', async () => {
    const manager = await company.as('manager');
    expect(await manager.refused(api.platform.audit)).toMatchObject({ status: 403 });
    const file = await administrator.agent.get('/api/audit').query({ file: 'csv', columns: 'what:What,who:Who' });
    expect(file.text).toContain('signedIn,administrator');
    for (const change of ['update audit set who = 1', 'delete from audit'])
      expect(() => company.terrace.store.sqlite.exec(change)).toThrow(/append-only/);
  });

  it('comes in pages, in any order, and is looked through for words', async () => {
    await company.terrace.audit.keep();
    const all = (await administrator.call(api.platform.audit)).rows;
    const pages = await Promise.all(
      [0, 3, 6].map(async (offset) => (await administrator.call(api.platform.audit, { query: { offset, limit: 3 } })).rows),
    );
    expect(pages.flat().map((each) => each.id)).toEqual(all.slice(0, 9).map((each) => each.id));
    expect(all.map((each) => each.id)).toEqual(all.map((each) => each.id).sort((a, b) => b - a));
    for (const sort of ['at', '-at', 'who', 'address', 'route', 'outcome', 'detail', 'times', 'what'])
      expect((await administrator.call(api.platform.audit, { query: { sort } })).total, sort).toBe(all.length);
    const found = await administrator.call(api.platform.audit, { query: { find: 'viewer planning' } });
    expect(found.rows.map((each) => each.what)).toContain('rightRefused');
    expect(found.rows.every((each) => each.who === 'viewer')).toBe(true);
  });

  it('counts what comes a thousand times as one row', async () => {
    const viewer = await company.as('viewer');
    await company.terrace.audit.keep();
    const rows = (await audit('rightRefused')).length;
    for (let at = 0; at < 300; at += 1) await viewer.refused(api.planning.runPlan);
    const after = await audit('rightRefused');
    expect(after.length - rows).toBeLessThan(20);
    expect(after.slice(0, after.length - rows).reduce((sum, each) => sum + each.times, 0)).toBe(300);
  });
});

interface Heard {
  text: string;
  ended: boolean;
}

async function stream(cookie: string): Promise<Heard> {
  const answer = await fetch(`${base}/api/live`, { headers: { cookie } });
  expect(answer.status).toBe(200);
  const heard: Heard = { text: '', ended: false };
  const reader = answer.body?.pipeThrough(new TextDecoderStream()).getReader();
  void (async () => {
    for (;;) {
      const { value, done } = (await reader?.read().catch(() => ({ value: undefined, done: true }))) ?? { value: undefined, done: true };
      if (done) break;
      heard.text += value ?? '';
    }
    heard.ended = true;
  })();
  await vi.waitFor(() => expect(heard.text).toContain('retry'));
  return heard;
}

const order = () => ({
  body: { customerId: 1, warehouseId: 1, requiredDate: '2027-03-12', lines: [{ itemId: company.id('item', 'SMOKER'), quantity: '1' }] },
});

describe('the live stream', () => {
  it('ends when its person signs out, is deactivated, or has five newer ones', async () => {
    const cookie = cookiesOf(await signIn('storekeeper'));
    const first = await stream(cookie);
    const own = await Promise.all(Array.from({ length: 5 }, () => stream(cookie)));
    await vi.waitFor(() => expect(first.ended).toBe(true));
    expect(first.text).toContain('event: elsewhere');
    expect(own.map((each) => each.ended)).toEqual([false, false, false, false, false]);
    await fetch(`${base}/api/session`, { method: 'DELETE', headers: { cookie } });
    await vi.waitFor(() => expect(own.map((each) => each.ended)).toEqual([true, true, true, true, true]));
    const next = cookiesOf(await signIn('storekeeper', 'secret', cookie));
    const last = await stream(next);
    setRow(company.terrace, user, somebody('storekeeper').id, { active: false });
    await administrator.call(api.selling.createOrder, order());
    await vi.waitFor(() => expect(last.ended).toBe(true));
    expect(last.text).not.toContain('customerOrder');
    setRow(company.terrace, user, somebody('storekeeper').id, { active: true });
  });

  it('tells of mail to those only who may see the outbox, and of the rest to everybody who may see it', async () => {
    const [seeing, not] = await Promise.all([
      stream(cookiesOf(await signIn('administrator'))),
      stream(cookiesOf(await signIn('viewer', 'secret', cookiesOf(await signIn('viewer'))))),
    ]);
    const { commands } = company.terrace;
    commands.perform(somebody('manager'), (work) => {
      work.touch('mail', 7, 'Purchase order PO-1 to a supplier');
      work.touch('item', 1, 'changed');
    });
    await vi.waitFor(() => expect(not.text).toContain('"topic":"item"'));
    await vi.waitFor(() => expect(seeing.text).toContain('Purchase order PO-1'));
    expect(not.text).not.toContain('Purchase order PO-1');
  });

  it('of somebody who does not read is closed, and keeps nothing in memory for them', async () => {
    const cookie = cookiesOf(await signIn('administrator'));
    const socket: Socket = connect((server.address() as AddressInfo).port, '127.0.0.1');
    socket.on('error', () => undefined);
    const closed = new Promise((done) => socket.once('close', done));
    socket.write(`GET /api/live HTTP/1.1\r\nhost: x\r\ncookie: ${cookie}\r\n\r\n`);
    await new Promise((done) => socket.once('readable', done));
    socket.pause();
    const { commands } = company.terrace;
    const words = 'x'.repeat(100_000);
    for (let at = 0; at < 400; at += 1) {
      commands.perform(somebody('manager'), (work) => work.touch('item', 1, words));
      await new Promise(setImmediate);
    }
    socket.resume();
    await closed;
  });
});

describe('what is sent', () => {
  it('is read only of who may send it', async () => {
    let read = 0;
    const body = new ReadableStream<Uint8Array>({
      pull: (control) => {
        read += 1;
        control.enqueue(new Uint8Array(64 * 1024));
        if (read > 3000) control.close();
      },
    });
    const answer = await fetch(`${base}/api/bulk/files/items`, {
      method: 'POST',
      headers: { 'content-type': 'multipart/form-data; boundary=X', connection: 'close' },
      body,
      duplex: 'half',
    } as RequestInit).catch(() => null);
    if (answer) expect(answer.status).toBe(401);
    expect(read).toBeLessThan(1500);
  });

  it('is attached only to what there is', async () => {
    const attach = (id: number) =>
      administrator.agent.post(`/api/records/customerOrder/${id}/files`).attach('file', Buffer.from('%PDF-1.7'), 'a.pdf');
    expect((await attach(9999)).status).toBe(404);
    const { id } = await administrator.call(api.selling.createOrder, order());
    expect((await attach(id)).status).toBe(200);
  });

  it('and its answers stay in no cache', async () => {
    for (const path of ['/api/session', '/api/selling/orders', '/api/session/welcome'])
      expect((await administrator.agent.get(path)).headers['cache-control'], path).toBe('no-store');
  });

  it.each([
    ['9999999999', '999999999'],
    ['9999999999', '0.01'],
    ['1', '999999999999'],
  ])('%s pieces at %s, which no sum can hold, are refused with a word', async (quantity, price) => {
    const line = { itemId: company.id('item', 'SMOKER'), quantity, price };
    const { status, body } = await administrator.attempt(api.selling.createOrder, {
      body: { ...order().body, lines: Array.from({ length: 3 }, () => line) },
    });
    expect(status, JSON.stringify(body)).toBeLessThan(500);
    if (status !== 200) expect((body as { detail: string }).detail).toMatch(/large/);
  });
});

describe('nobody waits for another', () => {
  it('three files are made for one person at once, and no more', async () => {
    const atOnce = new AtOnce();
    let finish: () => void = () => undefined;
    const open = new Promise<void>((done) => (finish = done));
    const three = [1, 2, 3].map(() => atOnce.for(7, () => open));
    await expect(atOnce.for(7, () => open)).rejects.toMatchObject({ code: 'busyForYou' });
    const other = atOnce.for(8, () => open);
    finish();
    await Promise.all([...three, other]);
    await atOnce.for(7, () => Promise.resolve());
  });

  it('labels are drawn while others are answered', async () => {
    const item = company.id('item', 'SMOKER');
    const drawing = administrator.agent.get(`/api/papers/labels/item/${item}?copies=80`).buffer(true);
    let drawn = false;
    void drawing.then(() => (drawn = true));
    const waits: number[] = [];
    while (!drawn && waits.length < 5000) {
      const start = performance.now();
      await administrator.call(api.selling.listOrders);
      waits.push(performance.now() - start);
      await new Promise((done) => setTimeout(done, 20));
    }
    expect((await drawing).status).toBe(200);
    // Many were answered before the paper was there: it is not for how fast, but for not having to wait for it.
    expect(waits.length).toBeGreaterThan(5);
  });

  it('what holds the main thread is named', async () => {
    const held: Held[] = [];
    const watch = new Watch((each) => held.push(each));
    const busy = (milliseconds: number): void => {
      const until = performance.now() + milliseconds;
      while (performance.now() < until);
    };
    watch.during('/quick', () => busy(20));
    watch.during('/slow', () => busy(300));
    await new Promise((done) => setTimeout(done, 150));
    expect(held.map((each) => each.by)).toEqual(['/slow']);
    busy(600);
    await new Promise((done) => setTimeout(done, 150));
    expect(held.map((each) => each.by)).toEqual(['/slow', 'something after /slow']);
    watch.close();
  });

  it('more lots and numbers than can be posted in a moment are refused, with how many can', async () => {
    const { id } = await administrator.call(api.catalogue.createItem, {
      body: { code: 'MANY', description: 'Many with numbers', group: 'ALL', unit: 'each', sellPrice: '1', tracking: 'serial' },
    });
    const adjust = (count: number) => ({
      body: {
        warehouseId: 1,
        reason: 'BREAKAGE',
        note: 'found',
        lines: [{ itemId: id, binId: 1, change: String(count), cost: '1', pieces: [{ serials: `M-00001..M-${String(count).padStart(5, '0')}` }] }],
      },
    });
    expect(await administrator.refused(api.stores.adjust, adjust(1001))).toMatchObject({ code: 'tooMuchAtOnce', details: { most: 1000 } });
    await administrator.call(api.stores.adjust, adjust(1000));
    company.sound();
  });
});
