import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, type AnyRoute, type ProblemDetails } from '@terrace/contract';
import { TODAY, openDemo, type Asked, type DemoDesk } from './testing/desk';

type Row = Readonly<Record<string, unknown>>;
/** Names that look like figures, but are none. */
const NAMES = new Set(['id', 'rounding']);
/** Of longer lists the first rows stand for all. */
const MANY = 300;
interface Page {
  readonly rows: readonly Row[];
  readonly total: number;
}

let desk: DemoDesk;
beforeAll(async () => {
  desk = await openDemo();
}, 120_000);
afterAll(() => desk.close());

const ask = (path: string, query?: Asked): Promise<Response> => desk.ask(path, query);

/** Reads what must be there; the server itself checks it against the contract. */
async function read<T>(path: string, query?: Asked): Promise<T> {
  const answer = await ask(path, query);
  const text = await answer.text();
  expect(answer.status, `${path} ${JSON.stringify(query ?? {})}: ${text.slice(0, 300)}`).toBe(200);
  return JSON.parse(text) as T;
}

/** Every list of the contract but one, with what some need to be asked for. */
const MORE: Readonly<Record<string, Asked>> = { worth: { by: 'item', date: TODAY } };
const PATHS: Readonly<Record<string, string>> = { listPriceEntries: '/selling/price-lists/1/entries', traceList: '/stores/trace/lot/4/list' };
/** It grows by being looked at: tested where that is looked after, in the server's attacks.spec.ts. */
const GROWS = 'audit';
const LISTS = Object.values(api).flatMap((room) =>
  Object.entries(room as Readonly<Record<string, AnyRoute>>)
    .filter(([name, route]) => name !== GROWS && 'shape' in route.query && 'file' in (route.query.shape as object))
    .map(([name, route]) => ({ name, path: PATHS[name] ?? route.path, more: MORE[name] ?? {} })),
);
const list = (path: string, query: Asked): Promise<Page> => read<Page>(path, query);
const plain = (value: unknown): boolean => value === null || ['string', 'number', 'boolean'].includes(typeof value);
const said = (value: unknown): string => (typeof value === 'string' || typeof value === 'number' ? String(value) : '');
const fieldsOf = (rows: readonly Row[]): string[] => Object.keys(rows[0] ?? {}).filter((field) => rows.every((row) => plain(row[field])));

describe('the order book of what is open', () => {
  const open = { filter: JSON.stringify({ open: { op: 'equals', value: 'true' } }) };

  it('has what is in danger first, then the rest, each by its day; pages neither overlap nor miss, wherever they are cut', async () => {
    const whole = await list('/selling/orders', { ...open, limit: 1000 });
    const inDanger = whole.rows.filter((row) => row['endangered'] === true).length;
    expect(inDanger).toBeGreaterThan(1);
    expect(whole.rows.length).toBe(whole.total);
    expect(whole.rows.map((row) => row['endangered'])).toEqual(whole.rows.map((_, at) => at < inDanger));
    for (const part of [whole.rows.slice(0, inDanger), whole.rows.slice(inDanger)]) {
      const dates = part.map((row) => said(row['requiredDate']));
      expect(dates).toEqual([...dates].sort().reverse());
    }
    for (const size of [1, inDanger - 1, inDanger, inDanger + 1]) {
      const pages: Page[] = [];
      for (let offset = 0; offset < inDanger + 3; offset += size) pages.push(await list('/selling/orders', { ...open, offset, limit: size }));
      expect(pages.flatMap((page) => page.rows)).toEqual(whole.rows.slice(0, pages.length * size));
      expect(pages.every(({ total }) => total === whole.total)).toBe(true);
    }
  });
});

describe.each(LISTS)('the list $name', ({ path, more }) => {
  let whole: Page;
  beforeAll(async () => {
    whole = await list(path, { ...more, limit: 1000 });
  });

  it('comes in pages that neither overlap nor miss', async () => {
    expect(whole.rows.length).toBe(Math.min(1000, whole.total));
    const size = Math.max(1, Math.ceil(whole.rows.length / 4));
    const pages: Page[] = [];
    for (let offset = 0; offset < whole.rows.length; offset += size) pages.push(await list(path, { ...more, offset, limit: size }));
    expect(pages.flatMap((page) => page.rows)).toEqual(whole.rows.slice(0, pages.length * size));
    expect(pages.every((page) => page.total === whole.total)).toBe(true);
    expect(await list(path, { ...more, offset: whole.total + 5, limit: 5 })).toMatchObject({ rows: [], total: whole.total });
  });

  it('is sorted by what it has, and back', async () => {
    let sorted = 0;
    const kept = (values: readonly unknown[]): string[] => values.map((value) => JSON.stringify(value)).sort();
    for (const field of fieldsOf(whole.rows)) {
      const answer = await ask(path, { ...more, limit: MANY, sort: field });
      if (answer.status !== 200) {
        expect(((await answer.json()) as ProblemDetails).code, field).toBe('unknownField');
        continue;
      }
      sorted += 1;
      const rising = ((await answer.json()) as Page).rows.map((row) => row[field]);
      const falling = (await list(path, { ...more, limit: MANY, sort: `-${field}` })).rows.map((row) => row[field]);
      if (whole.total <= MANY) expect(kept(rising), field).toEqual(kept(whole.rows.map((row) => row[field])));
      if (whole.total <= MANY) expect(kept(falling), field).toEqual(kept(rising));
      for (const [values, way] of [[rising, 1] as const, [falling, -1] as const]) {
        const figures = values.filter((value) => typeof value === 'number' || (typeof value === 'string' && /^-?\d+(\.\d+)?$/.test(value)));
        if (NAMES.has(field) || figures.length < values.length) continue;
        expect(figures, field).toEqual([...figures].sort((one, other) => way * (Number(one) - Number(other))));
      }
    }
    expect(sorted).toBeGreaterThan(whole.total === 0 ? -1 : 0);
  });

  it('is narrowed to the rows that have a value, and only those', async () => {
    if (whole.total > 1000) return;
    for (const field of fieldsOf(whole.rows)) {
      const value = whole.rows[Math.floor(whole.rows.length / 2)]?.[field];
      if (typeof value !== 'string' && typeof value !== 'number' && typeof value !== 'boolean') continue;
      if (value === '') continue;
      const answer = await ask(path, { ...more, limit: 1000, filter: JSON.stringify({ [field]: { op: 'equals', value: String(value) } }) });
      if (answer.status !== 200) {
        // A word in a column of figures, like "any", is no figure to filter by.
        expect(['unknownField', 'notANumber'], field).toContain(((await answer.json()) as ProblemDetails).code);
        continue;
      }
      const { rows, total } = (await answer.json()) as Page;
      const wanted = whole.rows.filter((row) => row[field] === value).length;
      expect([field, rows.every((row) => row[field] === value), rows.length, total]).toEqual([field, true, wanted, wanted]);
    }
  });

  it('is looked through for the words that people see, and cut at a figure', async () => {
    if (whole.total > 1000) return;
    const kept = async (field: string, op: string, value: string): Promise<Page | null> => {
      const answer = await ask(path, { ...more, limit: 1000, filter: JSON.stringify({ [field]: { op, value } }) });
      return answer.status === 200 ? ((await answer.json()) as Page) : null;
    };
    for (const field of fieldsOf(whole.rows)) {
      const value = said(whole.rows[Math.floor(whole.rows.length / 2)]?.[field]);
      if (value === '') continue;
      const part = value.slice(0, 6);
      const has = (row: Row): boolean => said(row[field]).toLowerCase().includes(part.toLowerCase());
      const found = await kept(field, 'contains', part);
      if (found) expect([field, part, found.rows.filter(has).length, found.total]).toEqual([field, part, found.total, whole.rows.filter(has).length]);
      const figures = whole.rows.map((row) => row[field]).filter((each) => each !== null && each !== '');
      if (NAMES.has(field) || !figures.every((each) => Number.isFinite(Number(each)))) continue;
      const [from, to] = [await kept(field, 'atLeast', value), await kept(field, 'atMost', value)];
      if (!from || !to) continue;
      const count = (holds: (figure: number) => boolean): number => figures.filter((each) => holds(Number(each))).length;
      expect([field, from.total, to.total]).toEqual([field, count((each) => each >= Number(value)), count((each) => each <= Number(value))]);
    }
  });

  it('finds nothing by what is nowhere, and goes out as a file with every row', async () => {
    expect((await list(path, { ...more, find: 'zzqxv', limit: 5 })).rows).toEqual([]);
    const [field] = fieldsOf(whole.rows);
    if (field === undefined) return;
    const answer = await ask(path, { ...more, file: 'csv', columns: `${field}:First` });
    expect([answer.status, answer.headers.get('content-type')]).toEqual([200, expect.stringContaining('text/csv')]);
    const [head, ...lines] = (await answer.text()).trimEnd().split('\n');
    expect(head?.replace(/^\uFEFF/, '')).toBe('First');
    if (whole.rows.every((row) => !String(row[field]).includes('\n'))) expect(lines).toHaveLength(whole.total);
  });

  it('says what it can not sort, compare or read', async () => {
    for (const [query, code] of [
      [{ sort: 'noSuchColumn' }, 'unknownField'],
      [{ filter: '{"noSuchColumn":{"op":"equals","value":"1"}}' }, 'unknownField'],
      [{ filter: '{"number":{"op":"near","value":"1"}}' }, 'badFilter'],
      [{ filter: 'number = 1' }, 'badFilter'],
      [{ limit: 0 }, 'badInput'],
      [{ offset: -1 }, 'badInput'],
    ] as const) {
      const answer = await ask(path, { ...more, ...query });
      expect([JSON.stringify(query), answer.status >= 400 && answer.status < 500, ((await answer.json()) as ProblemDetails).code]).toEqual([
        JSON.stringify(query),
        true,
        code,
      ]);
    }
  });
});

/** Documents by the list that names them. */
const DOCUMENTS: readonly (readonly [what: string, from: string, to: string, part: string])[] = [
  ['orders', '/selling/orders', '/selling/orders', ''],
  ['charts of orders', '/selling/orders', '/planning/orders', ''],
  ['invoices', '/selling/invoices', '/selling/invoices', ''],
  ['price lists', '/selling/price-lists', '/selling/price-lists', ''],
  ['purchase orders', '/buying/orders', '/buying/orders', ''],
  ['production orders', '/production/orders', '/production/orders', ''],
  ['shipments', '/dispatch/shipments', '/dispatch/shipments', ''],
  ['transfers', '/stores/transfers', '/stores/transfers', ''],
  ['adjustments', '/stores/adjustments', '/stores/adjustments', ''],
  ['lots', '/stores/lots', '/stores/lots', ''],
  ['pictures of lots', '/stores/lots', '/stores/trace/lot', ''],
  ['events of lots', '/stores/lots', '/stores/trace/lot', '/events'],
  ['serial numbers', '/stores/serials', '/stores/serials', ''],
  ['items', '/catalogue/items', '/catalogue/items', ''],
  ['places of items', '/catalogue/items', '/stores/items', '/places'],
  ['customers', '/catalogue/customers', '/catalogue/customers', ''],
  ['suppliers', '/catalogue/suppliers', '/catalogue/suppliers', ''],
  ['mails', '/outbox', '/outbox', ''],
];

describe('what a list names can be opened', () => {
  it.each(DOCUMENTS)('%s', async (_, from, to, part) => {
    const { rows } = await list(from, { limit: 60 });
    expect(rows.length).toBeGreaterThan(0);
    for (const { id } of rows) await read(`${to}/${String(id)}${part}`);
  });

  it('records of items, and each suggestion with its reason', async () => {
    const { rows: items } = await list('/catalogue/items', { limit: 1000 });
    for (const { id } of items) for (const warehouse of [1, 2]) await read(`/planning/records/${String(id)}/${warehouse}`);
    const { rows } = await list('/planning/suggestions', { limit: 200 });
    for (const { id } of rows.filter((row) => typeof row['id'] === 'string')) {
      const one = await read<{ why: readonly unknown[] }>('/planning/suggestion', { name: String(id) });
      expect(one.why.length).toBeGreaterThan(0);
    }
  });

  it('and is refused by a number that nothing has', async () => {
    for (const to of new Set(DOCUMENTS.map(([, , path, part]) => `${path}/999999${part}`))) {
      const answer = await ask(to);
      expect([to, ((await answer.json()) as ProblemDetails).code]).toEqual([to, expect.stringMatching(/^(notFound|unknownItem)$/)]);
      expect([404, 422]).toContain(answer.status);
    }
  });
});

describe('papers', () => {
  const PAPERS = [
    ['purchase orders', '/buying/orders', '/papers/purchaseOrder'],
    ['customer orders as time charts', '/selling/orders', '/papers/orderChart'],
    ['pick lists', '/dispatch/shipments', '/papers/shipment'],
    ['invoices', '/selling/invoices', '/papers/invoice'],
    ['labels of items', '/catalogue/items', '/papers/labels/item'],
    ['labels of lots', '/stores/lots', '/papers/labels/lot'],
  ] as const;

  it.each(PAPERS)('of %s are PDF, the first and the last of them', async (_, from, to) => {
    const { rows } = await list(from, { limit: 200 });
    for (const row of [rows[0], rows.at(-1)]) {
      const answer = await ask(`${to}/${String(row?.['id'])}`);
      expect([to, row?.['id'], answer.status, answer.headers.get('content-type')]).toEqual([to, row?.['id'], 200, 'application/pdf']);
      const content = Buffer.from(await answer.arrayBuffer());
      expect([content.subarray(0, 5).toString(), content.includes('%%EOF')]).toEqual(['%PDF-', true]);
    }
  });

  it('of nothing, in no kind or in no number of copies, are refused', async () => {
    const { rows } = await list('/catalogue/items', { limit: 1 });
    const item = String(rows[0]?.['id']);
    for (const path of [
      '/papers/purchaseOrder/999999',
      '/papers/invoice/abc',
      '/papers/secret/1',
      '/papers/toString/1',
      '/papers/labels/item/999999',
      '/papers/orderChart/999999',
      `/papers/labels/item/${item}?copies=abc`,
      `/papers/labels/item/${item}?copies=0`,
      `/papers/labels/item/${item}?copies=100000`,
      '/outbox/999999/attachment',
    ]) {
      const answer = await desk.ask(path);
      const { code, detail } = (await answer.json()) as ProblemDetails;
      expect([path, answer.status >= 400 && answer.status < 500, code === 'fault', detail.length > 10]).toEqual([path, true, false, true]);
    }
  });
});

describe('the demo company', () => {
  const kindsOf = (rows: readonly Row[], field: string): string[] => [...new Set(rows.map((row) => String(row[field])))].sort();

  it('shows every kind of suggestion, exception and data problem', async () => {
    const suggestions = await list('/planning/suggestions', { limit: 1000 });
    expect(kindsOf(suggestions.rows, 'kind')).toEqual(['buy', 'make', 'transfer']);
    expect(suggestions.rows.some((row) => Number(row['daysLate']) > 0)).toBe(true);
    const exceptions = await list('/planning/exceptions', { limit: 1000 });
    expect(kindsOf(exceptions.rows, 'kind')).toEqual(['bringForward', 'cancel', 'expires', 'overdueDemand', 'overdueReceipt', 'pushBack', 'short']);
    const wire = suggestions.rows.filter((row) => row['code'] === 'WIRE').map((row) => row['supplier']);
    expect(new Set(wire).size).toBeGreaterThan(1);
    const problems = await list('/planning/problems', { limit: 1000 });
    expect(kindsOf(problems.rows, 'code')).toEqual(['cycle', 'noBom', 'noRule', 'noSupplier']);
  });

  it('has an order that waits for what is free, and one that goes beyond what its customer may owe', async () => {
    expect((await read<{ rows: Row[] }>('/selling/waiting')).rows).not.toEqual([]);
    const { rows: customers } = await list('/catalogue/customers', { limit: 1000 });
    const limited = new Set(customers.filter((row) => row['creditLimit'] !== null).map((row) => row['name']));
    const drafts = await list('/selling/orders', { filter: JSON.stringify({ state: { op: 'equals', value: 'draft' } }) });
    const codes: (string | undefined)[] = [];
    for (const row of drafts.rows.filter((each) => limited.has(each['customer']))) {
      const address = `/selling/orders/${said(row['id'])}`;
      const { version } = await read<{ version: number }>(address);
      const answer = await desk.post(`${address}/confirm`, { version });
      codes.push(((await answer.json()) as Partial<ProblemDetails>).code);
    }
    expect(codes).toContain('beyondCredit');
  });

  it('has a divided family of which a part has shipped, a quote about to lapse, one lost, and what a supplier ships', async () => {
    const orders = await list('/selling/orders', { limit: 1000 });
    const part = orders.rows.find((row) => /-2$/.test(said(row['number'])));
    const { family } = await read<{ family: { state: string }[] }>(`/selling/orders/${said(part?.['id'])}`);
    expect(family.map(({ state }) => state)).toEqual(['shipped', 'confirmed']);
    const quotes = await list('/selling/quotes', { limit: 1000 });
    expect(quotes.rows.filter((row) => row['soon'] === true)).toHaveLength(1);
    expect(kindsOf(quotes.rows, 'state')).toEqual(['agreed', 'lost', 'offered', 'won']);
    expect(
      quotes.rows
        .filter((row) => row['lostReason'] !== '')
        .map((row) => [row['state'], row['lostReason']])
        .sort(),
    ).toEqual([
      ['lost', 'date'],
      ['won', 'price'],
    ]);
    expect(await read<unknown[]>('/selling/direct')).toHaveLength(1);
  });

  it('sorts its rules by what is kept in safety, however that is said', async () => {
    const { rows } = await list('/catalogue/rules', { limit: 1000, sort: '-safety' });
    const figures = rows.map((row) => Number(row['safetyStock']));
    expect(figures).toEqual([...figures].sort((one, other) => other - one));
    expect(rows.some((row) => String(row['safety']).includes('days'))).toBe(true);
  });

  it('says the same value of stock on Today, in the stores and in the accounts', async () => {
    const { figures } = await read<{ figures: readonly { key: string; value: string; trend: readonly number[] }[] }>('/today');
    const stock = figures.find((each) => each.key === 'stock');
    for (const by of ['item', 'group', 'warehouse']) {
      const { value, rows } = await read<Page & { value: string }>('/stores/worth', { by, limit: 1000 });
      expect([by, value]).toEqual([by, stock?.value]);
      expect(rows.reduce((sum, row) => sum + Math.round(Number(row['value']) * 100), 0)).toBe(Math.round(Number(value) * 100));
    }
    const { checks } = await read<{ checks: readonly { name: string; expected: string; holds: boolean }[] }>('/accounts/proof');
    expect(checks.find((each) => each.name.startsWith('Inventory accounts'))?.expected).toBe(stock?.value);
    expect(checks.filter((each) => !each.holds)).toEqual([]);
    // A week ago, as it was then.
    const { value: then } = await read<{ value: string }>('/stores/worth', { date: '2027-02-22' });
    expect(stock?.trend.at(-2)).toBe(Number(then));
  });

  it('says the same stock of an item wherever it is looked at', async () => {
    const { rows } = await list('/stores/stock', { limit: 1000 });
    const listed = new Map((await list('/catalogue/items', { limit: 1000 })).rows.map((row) => [row['id'], row]));
    const free = new Map<unknown, number>();
    const lot = new Set((await list('/stores/lots', { limit: 1000 })).rows.map((row) => row['itemId']));
    for (const row of rows) {
      const [item, warehouse] = [Number(row['itemId']), Number(row['warehouseId'])];
      const figures = (each: Row): unknown[] => ['onHand', 'reserved', 'free', 'expectedIn', 'expectedOut'].map((field) => each[field]);
      const entry = await read<Row>('/stores/availability', { item, warehouse });
      expect([row['code'], row['warehouse'], ...figures(entry)]).toEqual([row['code'], row['warehouse'], ...figures(row)]);
      const strip = await read<Row & { events: readonly Row[] }>('/stores/strip', { item, warehouse });
      // What will expire before it is used is expected to go, too: only the drawing looks that far.
      if (!lot.has(item)) expect([row['code'], ...figures(strip)]).toEqual([row['code'], ...figures(row)]);
      const places = await read<readonly Row[]>(`/stores/items/${item}/places`);
      const here = places.filter((each) => each['warehouseId'] === warehouse && each['state'] !== 'inTransit');
      expect([row['code'], here.reduce((sum, each) => sum + Math.round(Number(each['quantity']) * 1e5), 0)]).toEqual([
        row['code'],
        Math.round(Number(row['onHand']) * 1e5),
      ]);
      free.set(item, (free.get(item) ?? 0) + Math.round(Number(row['free']) * 1e5));
    }
    for (const [item, sum] of free) expect([item, Math.round(Number(listed.get(item)?.['free']) * 1e5)]).toEqual([item, sum]);
  });

  it('has documents in every state that a day meets', async () => {
    const statesOf = async (path: string): Promise<string[]> => kindsOf((await list(path, { limit: 1000 })).rows, 'state');
    expect(await statesOf('/selling/orders')).toEqual(expect.arrayContaining(['draft', 'confirmed', 'partShipped', 'invoiced', 'closed']));
    expect(await statesOf('/buying/orders')).toEqual(expect.arrayContaining(['draft', 'sent', 'partReceived', 'received']));
    expect(await statesOf('/production/orders')).toEqual(expect.arrayContaining(['released', 'finished']));
    expect(await statesOf('/stores/transfers')).toEqual(expect.arrayContaining(['requested', 'shipped', 'received']));
    expect(await statesOf('/dispatch/shipments')).toEqual(expect.arrayContaining(['picking', 'shipped']));
    expect(await statesOf('/selling/invoices')).toEqual(expect.arrayContaining(['open', 'paid']));
  });
});
