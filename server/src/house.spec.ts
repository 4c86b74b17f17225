/** Ways of the house: letterhead, numbering, accounts and reasons; nothing is numbered twice, and nothing that is posted changes. */
import { deflateSync } from 'node:zlib';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, type NumberingView } from '@terrace/contract';
import { openCompany, type Client, type Company } from './testing/company';

const { setup, selling, stores } = api;
let company: Company;
let administrator: Client;
let manager: Client;

beforeAll(async () => {
  company = await openCompany();
  administrator = await company.as('administrator');
  manager = await company.as('manager');
});
afterAll(() => company.close());

const order = () => ({
  body: {
    customerId: company.id('customer', 'HOLLIN'),
    warehouseId: company.id('warehouse', 'WORKS'),
    requiredDate: '2027-03-10',
    lines: [{ itemId: company.id('item', 'SMOKER'), quantity: '1' }],
  },
});
const ordered = async (): Promise<string> => (await manager.call(selling.createOrder, order())).number;
const numberingOf = async (kind: string): Promise<NumberingView> => {
  const found = (await administrator.call(setup.numbering)).numbering.find((each) => each.kind === kind);
  if (!found) throw new Error(`no kind ${kind}`);
  return found;
};

/** A PNG picture of one colour. */
function png(width: number, height: number): Buffer {
  const crc = (data: Buffer): number => {
    let c = 0xffffffff;
    for (const byte of data) {
      c ^= byte;
      for (let bit = 0; bit < 8; bit += 1) c = c & 1 ? (c >>> 1) ^ 0xedb88320 : c >>> 1;
    }
    return (c ^ 0xffffffff) >>> 0;
  };
  const part = (type: string, data: Buffer): Buffer => {
    const head = Buffer.alloc(8);
    head.writeUInt32BE(data.length);
    head.write(type, 4);
    const sum = Buffer.alloc(4);
    sum.writeUInt32BE(crc(Buffer.concat([Buffer.from(type), data])));
    return Buffer.concat([head, data, sum]);
  };
  const size = Buffer.alloc(13);
  size.writeUInt32BE(width);
  size.writeUInt32BE(height, 4);
  size.set([8, 2, 0, 0, 0], 8);
  const rows = Buffer.concat(Array.from({ length: height }, () => Buffer.concat([Buffer.from([0]), Buffer.alloc(width * 3, 0x70)])));
  return Buffer.concat([
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]),
    part('IHDR', size),
    part('IDAT', deflateSync(rows)),
    part('IEND', Buffer.alloc(0)),
  ]);
}

describe('the company', () => {
  it('is what its papers say, with a picture that is one', async () => {
    const { version, currency, timeZone } = await administrator.call(setup.house);
    const body = {
      company: 'Fernhollow Cider Works',
      address: 'Mill Lane 3\nFernhollow',
      foot: 'Bank of Fernhollow, account 17',
      currency,
      timeZone,
      version,
    };
    expect(await administrator.call(setup.saveHouse, { body })).toMatchObject({ company: 'Fernhollow Cider Works', version: version + 1 });
    expect(await administrator.refused(setup.saveHouse, { body })).toMatchObject({ code: 'staleVersion' });
    const send = (content: Buffer, name = 'logo.png') => administrator.agent.post('/api/setup/logo').attach('file', content, name);
    expect((await send(Buffer.from('GIF89a'))).body).toMatchObject({ code: 'notWhatItSays' });
    const vast = png(1, 1);
    vast.writeUInt32BE(60_000, 16);
    expect((await send(vast)).body).toMatchObject({ code: 'tooLarge' });
    expect((await send(Buffer.alloc(400 * 1024))).body).toMatchObject({ code: 'fileTooLarge' });
    expect((await send(png(40, 20))).body).toMatchObject({ logo: true });
    expect((await administrator.agent.get('/api/setup/logo')).type).toBe('image/png');
    const line = { itemId: company.id('item', 'SMOKER'), binId: 1, change: '1', unitCost: '17.50' };
    const { id } = await manager.call(stores.adjust, { body: { warehouseId: 1, reason: 'OPENING', note: '', lines: [line] } });
    const paper = await manager.agent.get(`/api/papers/adjustment/${id}`);
    expect([paper.status, paper.type]).toEqual([200, 'application/pdf']);
    expect(await administrator.call(setup.dropLogo)).toMatchObject({ logo: false });
    expect((await manager.agent.post('/api/setup/logo').attach('file', png(4, 4), 'logo.png')).status).toBe(403);
  });

  it('keeps its books in one currency once something is posted, and says what', async () => {
    const house = await administrator.call(setup.house);
    expect(house.currencyStays).toMatch(/^ADJ-\d+ is posted in EUR/);
    const { currencyStays: _, logo: _logo, ...body } = house;
    expect(await administrator.refused(setup.saveHouse, { body: { ...body, currency: 'SEK' } })).toMatchObject({
      code: 'booksBegun',
      details: { field: 'currency' },
    });
    expect(await administrator.refused(setup.saveHouse, { body: { ...body, timeZone: 'Mars/Olympus' } })).toMatchObject({ code: 'unknownTimeZone' });
  });
});

describe('numbers of documents', () => {
  it('are as the house has them, and go on where they were', async () => {
    const before = await numberingOf('CO');
    expect(await ordered()).toBe(before.example);
    const body = { kind: 'CO', prefix: 'ORD', width: 6, byYear: true, next: 17 };
    await administrator.call(setup.saveNumbering, { body });
    expect([await ordered(), await ordered()]).toEqual(['ORD-2027-000017', 'ORD-2027-000018']);
    // Back to the old way, they go on there.
    const next = Number(before.example.split('-')[1]) + 1;
    await administrator.call(setup.saveNumbering, { body: { kind: 'CO', prefix: 'CO', width: 4, byYear: false, next } });
    expect(await ordered()).toBe(`CO-${next}`);
  });

  it('never come twice: not by going back, nor by the prefix of others', async () => {
    const { next, example, ...how } = await numberingOf('CO');
    const back = { kind: 'CO', prefix: how.prefix, width: how.width, byYear: how.byYear, next: next - 1 };
    expect(await administrator.refused(setup.saveNumbering, { body: back })).toMatchObject({ code: 'numberTaken', details: { field: 'next' } });
    expect(await administrator.refused(setup.saveNumbering, { body: { ...back, prefix: 'INV', next: 1 } })).toMatchObject({
      code: 'prefixTaken',
      details: { field: 'prefix' },
    });
    expect(await administrator.refused(setup.saveNumbering, { body: { ...back, kind: 'XX', next } })).toMatchObject({ code: 'notFound' });
    expect((await numberingOf('CO')).example).toBe(example);
  });

  it('are all different, however often their way is changed', async () => {
    const numbers = new Set((await manager.call(selling.listOrders, { query: { limit: 200 } })).rows.map(({ number }) => number));
    const way = fc.record({
      prefix: fc.constantFrom('CO', 'ORD', 'A'),
      width: fc.integer({ min: 1, max: 5 }),
      byYear: fc.boolean(),
      next: fc.integer({ min: 1, max: 1010 }),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(way, { minLength: 1, maxLength: 4 }), async (ways) => {
        for (const each of ways) {
          await administrator.attempt(setup.saveNumbering, { body: { kind: 'CO', ...each } });
          const number = await ordered();
          expect(numbers.has(number)).toBe(false);
          numbers.add(number);
        }
      }),
      { numRuns: 8 },
    );
  });
});

describe('accounts and reasons', () => {
  it('are added and renamed, say what uses them, and a reason that is not used any more is not offered', async () => {
    const { accounts } = await administrator.call(setup.saveAccount, { body: { code: '5420', name: 'Spoilt' } });
    expect(accounts.find(({ code }) => code === '1200')?.use).toBe('What customers owe');
    const reason = { code: 'SPOILT', name: 'Spoilt', account: '5420', noteNeeded: false, active: true };
    await administrator.call(setup.saveReason, { body: reason });
    expect(await administrator.refused(setup.saveReason, { body: { ...reason, code: 'spoilt' } })).toMatchObject({ code: 'alreadyThere' });
    expect(await administrator.refused(setup.saveReason, { body: { ...reason, code: 'OTHER', account: '9999' } })).toMatchObject({
      code: 'unknownAccount',
      details: { field: 'account' },
    });
    const line = { itemId: company.id('item', 'SMOKER'), binId: 1, change: '-1' };
    const spoil = { body: { warehouseId: 1, reason: 'SPOILT', note: '', lines: [line] } };
    await manager.call(stores.adjust, spoil);
    const { reasons } = await administrator.call(setup.saveReason, { body: { ...reason, active: false, version: 1 } });
    expect(reasons.find(({ code }) => code === 'SPOILT')).toMatchObject({ uses: 1, active: false, version: 2 });
    expect((await manager.call(api.catalogue.choices)).reasons.map(({ code }) => code)).not.toContain('SPOILT');
    expect(await manager.refused(stores.adjust, spoil)).toMatchObject({ code: 'closed', details: { field: 'reason' } });
    company.sound();
  });
});
