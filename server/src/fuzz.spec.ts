/**
 * No request that can be typed gets an answer of 500: whatever is sent to a route of the contract, by its schema, bent, or beside
 * all sense, is done or refused with a sentence. FUZZ_SECONDS sets how long; FUZZ_SEED repeats one run.
 */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import request from 'supertest';
import { api, type AnyRoute } from '@terrace/contract';
import { openCompany, type Client, type Company } from './testing/company';
import { Chooser, begun, valueOf } from './testing/made-up';

const SECONDS = Number(process.env['FUZZ_SECONDS'] ?? 5);
const SEED = Number(process.env['FUZZ_SEED'] ?? Date.now() % 1_000_000);
/** Signing people out or keeping them out ends what everything else here needs; closing the books refuses almost all that comes after it. */
const LEFT_OUT = new Set(['signOut', 'endOwnSession', 'endSessionsOf', 'changePerson', 'closeBooks', 'runForecasts']);

/** What programs stumble over. */
const NASTY: readonly unknown[] = [
  '__proto__', 'constructor', 'toString', '', ' ', '\u0000', 'a\u0000b', '\ud800', '\ufeff', '%', '%00', "'; drop table item; --", '<script>', '../../etc/passwd',
  '1e308', '-0', '0x10', 'NaN', 'Infinity', '99999999999999999999', '9007199254740993', '0.000000000000000001', '9999999999.99999', '2027-02-30', '0000-00-00', '9999-12-31',
  'x'.repeat(5000), 'é'.repeat(300), 0, -1, 1e21, 2 ** 53, 0.1, -0.5, null, true, [], {}, [[]], [null], { constructor: 1 }, JSON.parse('{"__proto__":{"a":1}}'), { length: 5 },
  Array.from({ length: 300 }, () => ({})),
]; // prettier-ignore

/** Numbers that follow from a seed, so that what was found is found again. */
function chances(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}
const chance = chances(SEED);
const below = (most: number): number => Math.floor(chance() * most);
const nasty = (): unknown => NASTY[below(NASTY.length)];

/** A value with something in it exchanged, dropped, doubled or added. */
function bent(value: unknown): unknown {
  if (chance() < 0.15 || typeof value !== 'object' || value === null) return nasty();
  if (Array.isArray(value)) {
    const copy: unknown[] = [...(value as unknown[])];
    const at = below(copy.length + 1);
    if (chance() < 0.2) return [...copy, ...copy];
    copy[at] = bent(copy[at]);
    return copy;
  }
  const copy: Record<string, unknown> = { ...value };
  const keys = Object.keys(copy);
  const key = keys[below(keys.length)];
  if (key === undefined || chance() < 0.05) return { ...copy, [String(nasty()).slice(0, 50)]: nasty() };
  if (chance() < 0.15) delete copy[key];
  else copy[key] = bent(copy[key]);
  return copy;
}

const ROUTES = Object.entries(api).flatMap(([room, routes]) =>
  Object.entries(routes as Readonly<Record<string, AnyRoute>>)
    .filter(([name]) => !LEFT_OUT.has(name))
    .map(([name, route]) => ({ name: `${room}.${name}`, route })),
);

let company: Company;
let administrator: Client;

beforeAll(async () => {
  company = await openCompany();
  administrator = await company.as('administrator');
  await begun(company, administrator);
});
afterAll(() => company.close());

interface Sent {
  readonly method: AnyRoute['method'];
  readonly path: string;
  readonly query: Record<string, unknown>;
  readonly body: unknown;
}

/** As an address can carry it: half a letter can't be. */
const wellFormed = (text: string): string => Buffer.from(text).toString();

function made({ route }: (typeof ROUTES)[number]): Sent {
  const choose = new Chooser(Array.from({ length: 50 }, () => below(1_000_000)));
  const path = route.path.replace(/:(\w+)/g, (_, name: string) =>
    chance() < 0.25 ? encodeURIComponent(wellFormed(String(nasty()).slice(0, 200))) : name === 'start' ? '2027-03-01' : String(1 + below(5)),
  );
  const query = valueOf(route.query, choose) as Record<string, unknown>;
  if ('sort' in query || chance() < 0.1) query['sort'] = String(nasty()).slice(0, 50);
  if (chance() < 0.2) query['filter'] = JSON.stringify({ [String(nasty()).slice(0, 20)]: { op: 'contains', value: nasty() } });
  const body = valueOf(route.body, choose);
  return {
    method: route.method,
    path,
    query: chance() < 0.4 ? { ...query, ...(bent(query) as object) } : query,
    body: chance() < 0.75 ? bent(body) : body,
  };
}

/** An address that is so long that it is never read. */
const HEAD_TOO_LONG = 431;

function hasSentence(text: string): boolean {
  const { detail } = JSON.parse(text) as { detail: string };
  return detail.length > 8 && detail.length < 2500;
}

let key = 0;
async function send({ method, path, query, body }: Sent): Promise<{ status: number; text: string }> {
  const address = `/api${path}?${new URLSearchParams(
    Object.entries(query ?? {})
      .filter(([, value]) => value !== undefined)
      .map(([name, value]) => [name, wellFormed(typeof value === 'string' ? value : (JSON.stringify(value) ?? ''))]),
  ).toString()}`;
  const test = administrator.agent[method](address);
  if (method === 'get') return test;
  key += 1;
  return test
    .set('Idempotency-Key', `fuzz-key-${key}`)
    .set('Content-Type', 'application/json')
    .send(JSON.stringify(body ?? null));
}

describe('whatever is sent', () => {
  it(
    'is done, or refused with a sentence',
    async () => {
      const until = Date.now() + SECONDS * 1000;
      const found: string[] = [];
      const tried = new Set<string>();
      let sent = 0;
      // Each route once at least, then by chance.
      for (let at = 0; at < ROUTES.length || Date.now() < until; at += 1) {
        const chosen = ROUTES[at < ROUTES.length ? at : below(ROUTES.length)];
        if (!chosen) continue;
        const what = made(chosen);
        const { status, text } = await send(what);
        sent += 1;
        tried.add(chosen.name);
        const words = (): string => `${chosen.name} ${JSON.stringify(what).slice(0, 400)} → ${status} ${text.slice(0, 300)}`;
        if (status >= 500) found.push(words());
        else if (status >= 400 && status !== HEAD_TOO_LONG && !hasSentence(text)) found.push(`no sentence: ${words()}`);
      }
      expect(found.slice(0, 8), `seed ${SEED}`).toEqual([]);
      expect(tried.size).toBe(ROUTES.length);
      company.sound();
      process.stdout.write(`${sent} requests made up with seed ${SEED}, over ${tried.size} routes: none answered with 500\n`);
    },
    SECONDS * 1000 + 60_000,
  );

  it.each([
    ['JSON that is nested thousands of times', `${'['.repeat(50_000)}${']'.repeat(50_000)}`, 422, 'tooDeep'],
    ['JSON that is cut short', '{"customerId":', 400, 'badBody'],
    ['a body that is larger than any', `{"note":"${'x'.repeat(3_000_000)}"}`, 413, 'badBody'],
  ])('%s is refused', async (_, text, status, code) => {
    const answer = await administrator.agent
      .post('/api/selling/orders')
      .set('Idempotency-Key', 'bad-body-key')
      .set('Content-Type', 'application/json')
      .send(text);
    expect([answer.status, (JSON.parse(answer.text) as { code: string }).code]).toEqual([status, code]);
  });

  it('a document of hundreds of lines is read; what takes no lines is not read that far', async () => {
    const note = 'x'.repeat(200_000);
    const send = (path: string, body: object) => administrator.agent.post(path).set('Idempotency-Key', 'long-document').send(body);
    expect((await send('/api/selling/orders', { note })).status).toBe(400);
    expect((await send('/api/planning/plan', { note })).status).toBe(413);
  });

  it.each([
    '/api/selling/orders/%E0%A4%A',
    '/api/records/customerOrder/%00/trail',
    '/api/files/NaN',
    '/api/papers/__proto__/1',
    '/api/papers/labels/toString/1',
    '/api/bulk/files/constructor',
    '/api/outbox/x/attachment',
    '/api/papers/labels/lot/1?copies=1e9',
  ])('%s names nothing, and says so', async (address) => {
    const answer = await administrator.agent.get(address);
    expect(answer.status).toBeGreaterThanOrEqual(400);
    expect(answer.status).toBeLessThan(500);
    expect(answer.text).toMatch(/"detail":"[^"]{8,}/);
  });

  it('a form that is cut short, in the wrong field, or named beside all sense is refused and keeps nothing', async () => {
    const form = (headers: string, body: string) =>
      administrator.agent.post('/api/records/item/1/files').set('Content-Type', headers).send(Buffer.from(body, 'latin1'));
    const head = 'Content-Disposition: form-data; name="file"; filename=';
    const cases: [string, string][] = [
      ['multipart/form-data; boundary=X', `--X\r\n${head}"a.pdf"\r\n\r\n%PDF-1.7 and then noth`],
      ['multipart/form-data; boundary=X', `--X\r\nContent-Disposition: form-data; name="other"; filename="a.pdf"\r\n\r\n%PDF-1.7\r\n--X--\r\n`],
      ['multipart/form-data', 'nothing'],
      ['multipart/form-data; boundary=', '--\r\n'],
      ['multipart/form-data; boundary=X', `--X\r\n${head}"${'x'.repeat(30_000)}.pdf"\r\n\r\nMZ\r\n--X--\r\n`],
    ];
    for (const [type, body] of cases) {
      const answer = await form(type, body);
      expect([answer.status >= 400 && answer.status < 500, answer.text], body.slice(0, 60)).toEqual([
        true,
        expect.stringMatching(/"detail":"[^"]{8,}/),
      ]);
      expect(answer.text).not.toContain('too large');
    }
    const named = await form('multipart/form-data; boundary=X', `--X\r\n${head}"a\u0000b/../\r\n.pdf"\r\n\r\n%PDF-1.7\r\n--X--\r\n`);
    expect(named.status).toBeLessThan(500);
    const nobody = await request(company.terrace.app).post('/api/records/item/1/files').attach('file', Buffer.from('%PDF-1.7'), 'a.pdf');
    expect(nobody.status).toBe(401);
  });
});
