/** From an empty folder to a company: founded once, by whoever reads the console. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import request from 'supertest';
import { afterEach, describe, expect, it } from 'vitest';
import { api, type BodyIn, type GuideStep } from '@terrace/contract';
import { openTerrace, type Terrace } from './app';
import { checkStore } from './keeping/check';
import { dayIn } from './platform/clock';
import { Client, TODAY, migrationsFolder } from './testing/company';

const { setup, platform, catalogue, stores, selling } = api;
const open: (() => Promise<void>)[] = [];
afterEach(async () => {
  for (const close of open.splice(0)) await close();
});

function empty(): Terrace {
  const dataFolder = mkdtempSync(join(tmpdir(), 'terrace-founding-'));
  const clock = { today: () => TODAY, now: () => `${TODAY}T09:00:00.000Z` };
  const terrace = openTerrace(
    { port: 0, host: '127.0.0.1', dataFolder, today: TODAY, logLevel: 'silent' },
    { migrationsFolder, webFolder: null, clock, checkAnswers: true, planHere: true },
  );
  open.push(async () => {
    await terrace.close();
    rmSync(dataFolder, { recursive: true, force: true });
  });
  return terrace;
}

const body = (code: string): BodyIn<typeof setup.found> => ({
  code,
  company: 'Fernhollow Cider Works',
  address: 'Mill Lane 3\nFernhollow',
  country: 'AT',
  currency: { code: 'EUR', name: 'Euro' },
  timeZone: 'Europe/Vienna',
  name: 'Oriel Fernhollow',
  login: 'Oriel',
  password: 'lantern copper orchard',
});
const clientOf = (terrace: Terrace): Client => new Client(request.agent(terrace.app));
const codeOf = (terrace: Terrace): string => terrace.code?.code ?? '';

async function founded(): Promise<{ terrace: Terrace; client: Client }> {
  const terrace = empty();
  const client = clientOf(terrace);
  expect(await client.call(setup.found, { body: body(codeOf(terrace)) })).toEqual({ login: 'oriel' });
  expect((await client.agent.post('/api/session').send({ login: 'oriel', password: body('').password })).status).toBe(200);
  return { terrace, client };
}

describe('an empty folder', () => {
  it('offers to found a company, to who has the code; then signs its founder in, who may everything', async () => {
    const terrace = empty();
    const client = clientOf(terrace);
    expect(await client.call(platform.welcome)).toMatchObject({ founded: false, demoPassword: null });
    expect(await client.refused(setup.found, { body: body('2222-2222') })).toMatchObject({ code: 'wrongCode', details: { field: 'code' } });
    await client.call(setup.found, { body: body(codeOf(terrace).toLowerCase()) });
    expect(await client.call(platform.welcome)).toMatchObject({ founded: true, company: 'Fernhollow Cider Works', demo: [] });
    await client.agent.post('/api/session').send({ login: 'oriel', password: body('').password });
    const session = await client.call(platform.getSession);
    expect(session).toMatchObject({
      company: 'Fernhollow Cider Works',
      currency: 'EUR',
      demo: false,
      user: { login: 'oriel', role: 'Administrator' },
    });
    const ground = await client.call(catalogue.getGround);
    expect(ground.taxCodes).toContainEqual({ code: 'FULL', name: 'Full rate', rate: '20', rates: [{ from: '', rate: '20' }] });
    const { houseTaxCode } = await client.call(catalogue.choices);
    expect(houseTaxCode).toBe('FULL');
    const customer = await client.call(catalogue.createCustomer, { body: { code: 'ONE', name: 'One' } });
    expect(customer).toMatchObject({ taxCode: 'FULL' });
    expect(ground.calendars[0]?.holidays).toContain('2027-10-26');
    expect(checkStore(terrace.store, TODAY).filter(({ holds }) => !holds)).toEqual([]);
  });

  it('is founded once: whoever lost the answer gets it again, everybody else is told that it is', async () => {
    const { terrace, client } = await founded();
    expect(await client.call(setup.found, { body: body(codeOf(terrace)) })).toEqual({ login: 'Oriel' });
    expect(await clientOf(terrace).refused(setup.found, { body: { ...body(codeOf(terrace)), login: 'somebody' } })).toMatchObject({
      code: 'founded',
    });
  });

  it('is founded by one of two who try at the same moment', async () => {
    const terrace = empty();
    const code = codeOf(terrace);
    const answers = await Promise.all(
      ['oriel', 'tansy', 'bryony'].map((login) => clientOf(terrace).attempt(setup.found, { body: { ...body(code), login } })),
    );
    expect(answers.map(({ status }) => status).toSorted()).toEqual([200, 422, 422]);
    expect(terrace.store.sqlite.prepare('select count(*) from user').pluck().get()).toBe(1);
  });

  it('stands five wrong codes, and then none', async () => {
    const terrace = empty();
    const client = clientOf(terrace);
    for (const left of ['4 tries are', '3 tries are', '2 tries are', '1 try is'])
      expect((await client.refused(setup.found, { body: body('AAAA-AAAA') })).detail).toContain(`${left} left`);
    await client.refused(setup.found, { body: body('AAAA-AAAA') });
    expect(await client.refused(setup.found, { body: body(codeOf(terrace)) })).toMatchObject({
      code: 'wrongCode',
      detail: expect.stringContaining('too often') as string,
    });
    expect(terrace.store.sqlite.prepare('select count(*) from user').pluck().get()).toBe(0);
  });

  it.each([
    [{ password: 'password' }, 'weakPassword', 'password'],
    [{ password: 'fernhollow cider works' }, 'weakPassword', 'password'],
    [{ timeZone: 'Europe/Nowhere' }, 'unknownTimeZone', 'timeZone'],
  ])('refuses %o with a word, and nothing is half founded', async (wrong, code, field) => {
    const terrace = empty();
    const client = clientOf(terrace);
    expect(await client.refused(setup.found, { body: { ...body(codeOf(terrace)), ...wrong } })).toMatchObject({ code, details: { field } });
    for (const table of ['user', 'role', 'item_group', "setting where key = 'company'"])
      expect(terrace.store.sqlite.prepare(`select count(*) from ${table}`).pluck().get()).toBe(0);
    await client.call(setup.found, { body: body(codeOf(terrace)) });
  });
});

describe('the guided list', () => {
  const steps = async (client: Client): Promise<Record<string, GuideStep>> =>
    Object.fromEntries((await client.call(setup.guide)).steps.map((each) => [each.key, each]));

  it('follows from the data: what is there, what is missing and what it blocks', async () => {
    const { terrace, client } = await founded();
    const first = await steps(client);
    expect(Object.keys(first)).toEqual(['places', 'people', 'ground', 'items', 'suppliers', 'customers', 'boms', 'stock', 'orders', 'plan']);
    expect(first['places']).toMatchObject({ state: 'empty', there: '1 warehouse, 0 bins besides the docks' });
    expect(first['people']?.lacks[0]?.text).toBe('Nobody but you may sign in');
    expect([first['ground']?.state, first['items']?.state, first['plan']?.there]).toEqual(['done', 'empty', 'Nothing is planned yet']);

    const item = await client.call(catalogue.createItem, { body: { code: 'PRESS', description: 'Cider press', group: 'GOODS', sellPrice: '0' } });
    await client.call(catalogue.createCustomer, { body: { code: 'INN', name: 'The Old Inn', address: '', email: '', taxRate: 0, paymentDays: 14 } });
    const then = await steps(client);
    expect(then['items']).toMatchObject({ state: 'done', there: '1 item' });
    expect(then['suppliers']?.lacks).toEqual([
      { text: '1 item that is bought has no supplier', blocks: 'The plan can’t buy them.', link: '/planning/problems' },
    ]);
    expect(then['customers']?.lacks.map(({ text }) => text)).toEqual(['1 customer has no tax code', '1 stocked item has no selling price']);

    const supplier = await client.call(catalogue.createSupplier, {
      body: { code: 'COOPER', name: 'Cooper’s Yard', address: '', email: 'yard@coopers.example', paymentDays: 30 },
    });
    await client.call(catalogue.setTerm, { params: { id: item.id }, body: { supplierId: supplier.id, price: '240', leadDays: 5 } });
    await client.call(stores.adjust, {
      body: { warehouseId: 1, reason: 'OPENING', note: '', lines: [{ itemId: item.id, change: '2', unitCost: '240' }] },
    });
    const last = await steps(client);
    expect([last['suppliers']?.state, last['stock']?.state]).toEqual(['done', 'done']);
    expect(checkStore(terrace.store, TODAY).filter(({ holds }) => !holds)).toEqual([]);
  });

  it('is for who may see the set-up', async () => {
    const { client } = await founded();
    const order = await client.attempt(selling.listOrders);
    expect(order.status).toBe(200);
    expect(await new Client(client.agent).call(setup.guide)).toHaveProperty('steps');
  });
});

describe('the day', () => {
  it('begins where the company is', () => {
    const moment = new Date('2027-02-28T23:30:00Z');
    expect([dayIn('Europe/Vienna', moment), dayIn('America/New_York', moment), dayIn('UTC', moment)]).toEqual([
      '2027-03-01',
      '2027-02-28',
      '2027-02-28',
    ]);
  });
});

describe('a company without a tax of its own', () => {
  it('has customers that are free of tax, until somebody says otherwise', async () => {
    const terrace = empty();
    const client = clientOf(terrace);
    await client.call(setup.found, { body: { ...body(codeOf(terrace)), country: 'ZZ' } });
    await client.agent.post('/api/session').send({ login: 'oriel', password: body('').password });
    const { id, taxCode, taxRate } = await client.call(catalogue.createCustomer, { body: { code: 'ONE', name: 'One' } });
    expect([taxCode, taxRate]).toEqual(['FREE', 0]);
    const { version, active } = await client.call(catalogue.getCustomer, { params: { id } });
    const changed = await client.call(catalogue.changeCustomer, {
      params: { id },
      body: { code: 'ONE', name: 'One', taxCode: null, taxRate: 700, version, active },
    });
    expect([changed.taxCode, changed.taxRate]).toEqual([null, 700]);
    // What nobody says again stays.
    const again = await client.call(catalogue.changeCustomer, {
      params: { id },
      body: { code: 'ONE', name: 'One', taxCode: null, version: changed.version, active },
    });
    expect([again.taxCode, again.taxRate]).toEqual([null, 700]);
  });
});
