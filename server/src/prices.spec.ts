import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, type BodyIn } from '@terrace/contract';
import { TODAY, openCompany, type Client, type Company } from './testing/company';

const { catalogue, selling } = api;
let company: Company;
let manager: Client;
let sales: Client;

beforeAll(async () => {
  company = await openCompany();
  manager = await company.as('manager');
  sales = await company.as('sales');
});
afterAll(() => company.close());

const id = (code: string) => company.id('item', code);
const list = (body: BodyIn<typeof selling.createPriceList>) => manager.call(selling.createPriceList, { body });
const add = (listId: number, body: BodyIn<typeof selling.addPriceEntry>) => manager.call(selling.addPriceEntry, { params: { id: listId }, body });
const ask = (code: string, more: object = {}) => manager.call(selling.explainPrice, { query: { itemId: id(code), customerId: 1, ...more } });

describe('price lists', () => {
  it('price by the most specific entry, and say each step', async () => {
    expect(await ask('SMOKER')).toMatchObject({ price: '36.00', list: null, cost: '17.50', margin: '51.39' });
    const general = await list({ code: 'ALL', name: 'Everybody', rounding: '0.05' });
    await add(general.id, { groupCode: 'ALL', way: 'offList', breaks: [{ value: '10' }] });
    expect(await ask('SMOKER')).toMatchObject({ price: '32.40', list: { code: 'ALL' } });
    const shops = await list({ code: 'SHOPS', name: 'Farm shops', customerGroup: 'SHOPS' });
    await add(shops.id, { itemId: id('SMOKER'), way: 'marginOnCost', breaks: [{ value: '50' }, { from: '10', value: '45' }] });
    expect((await ask('SMOKER')).price).toBe('32.40');
    const customer = await manager.call(catalogue.getCustomer, { params: { id: 1 } });
    await manager.call(catalogue.changeCustomer, { params: { id: 1 }, body: { ...customer, group: 'SHOPS' } });
    const answer = await ask('SMOKER', { quantity: '12' });
    expect(answer).toMatchObject({ price: '31.82', list: { code: 'SHOPS' }, margin: '45' });
    expect(answer.steps.join(' ')).toMatch(
      /List SHOPS .* goes before 1 less specific .* break from 10 on\. A margin of 45 % on the current cost of 17\.50/,
    );
  });

  it('chosen for a customer go before those of their group', async () => {
    const own = await list({ code: 'LOYAL', name: 'Loyal customers' });
    await add(own.id, { itemId: id('SMOKER'), way: 'amount', breaks: [{ value: '29.90' }] });
    const customer = await manager.call(catalogue.getCustomer, { params: { id: 1 } });
    await manager.call(catalogue.changeCustomer, { params: { id: 1 }, body: { ...customer, priceListId: own.id } });
    expect(await ask('SMOKER')).toMatchObject({ price: '29.90', list: { code: 'LOYAL' } });
  });

  it('show cost and margin beside every price', async () => {
    const { rows } = await manager.call(selling.listPriceEntries, { params: { id: 2 } });
    expect(rows).toMatchObject([{ code: 'SMOKER', price: '35.00', cost: '17.50', margin: '50' }]);
  });

  it.each([
    ['two audiences', { customerGroup: 'SHOPS', customerId: 1 }, 'twoAudiences'],
    ['a period that ends before it begins', { validFrom: '2027-05-01', validTo: '2027-04-01' }, 'badPeriod'],
    ['a currency without a rate', { currency: 'GBP' }, 'noRate'],
    ['a code that is taken', { code: 'shops' }, 'codeTaken'],
  ])('refuse %s', async (_name, more, code) => {
    expect(await manager.refused(selling.createPriceList, { body: { code: 'NEW', name: 'New', ...more } })).toMatchObject({ code });
  });

  it.each([
    ['an amount for a group', { groupCode: 'ALL', way: 'amount', breaks: [{ value: '1' }] }, 'amountNeedsItem'],
    ['a margin of all of it', { itemId: 1, way: 'marginOnCost', breaks: [{ value: '100' }] }, 'badShare'],
    ['two breaks at one quantity', { itemId: 1, way: 'amount', breaks: [{ value: '1' }, { value: '2' }] }, 'sameBreak'],
    ['a break finer than the unit', { itemId: 1, way: 'amount', breaks: [{ from: '0.5', value: '2' }] }, 'tooFine'],
    ['a price below nothing', { itemId: 1, way: 'amount', breaks: [{ value: '-2' }] }, 'negative'],
  ])('refuse %s', async (_name, body, code) => {
    const before = company.everything();
    expect(await manager.refused(selling.addPriceEntry, { params: { id: 2 }, body })).toMatchObject({ code });
    expect(company.everything()).toBe(before);
  });

  it('are changed and dropped under a version, by those who may', async () => {
    const made = await add(1, { itemId: id('FRAME'), way: 'amount', breaks: [{ value: '3' }] });
    const body = { itemId: id('FRAME'), way: 'amount', breaks: [{ value: '2.90' }], version: 1 };
    expect(await sales.refused(selling.changePriceEntry, { params: { id: made.id }, body })).toMatchObject({ code: 'notAllowed' });
    await manager.call(selling.changePriceEntry, { params: { id: made.id }, body: { ...body, way: 'amount' } });
    expect((await ask('FRAME')).price).toBe('2.90');
    expect(await manager.refused(selling.dropPriceEntry, { params: { id: made.id }, body: { version: 1 } })).toMatchObject({ code: 'staleVersion' });
    await manager.call(selling.dropPriceEntry, { params: { id: made.id }, body: { version: 2 } });
    expect((await ask('FRAME')).list).toMatchObject({ code: 'ALL' });
  });
});

describe('order lines', () => {
  const order = (client: Client, line: object) =>
    client.call(selling.createOrder, {
      body: { customerId: 1, warehouseId: 1, requiredDate: TODAY, lines: [{ itemId: id('SMOKER'), quantity: '2', ...line }] },
    });
  const refused = (client: Client, line: object) =>
    client.refused(selling.createOrder, {
      body: { customerId: 1, warehouseId: 1, requiredDate: TODAY, lines: [{ itemId: id('SMOKER'), quantity: '2', ...line }] },
    });

  it('take their price from the lists and keep how it came about', async () => {
    const [line] = (await order(sales, {})).lines;
    expect(line).toMatchObject({ price: '29.90' });
    expect(line?.priceSteps.join(' ')).toContain('List LOYAL');
    const [typed] = (await order(sales, { price: '29.00' })).lines;
    expect(typed?.priceSteps.at(-1)).toBe('sales typed 29.00 instead of 29.90.');
  });

  it('go below the ceiling only by somebody who may, with a reason', async () => {
    const smoker = await manager.call(catalogue.getItem, { params: { id: id('SMOKER') } });
    await manager.call(catalogue.changeItem, {
      params: { id: smoker.id },
      body: {
        code: 'SMOKER',
        description: smoker.description,
        group: 'ALL',
        unit: 'each',
        sellPrice: '36',
        discountCeiling: '10',
        version: smoker.version,
        active: true,
      },
    });
    expect(await refused(sales, { discount: '12' })).toMatchObject({ code: 'overCeiling', errors: [{ field: 'lines.0.discount' }] });
    expect(await refused(sales, { price: '20' })).toMatchObject({ code: 'overCeiling' });
    expect(await refused(sales, { discount: '12', discountReason: 'asked nicely' })).toMatchObject({ code: 'overCeiling' });
    expect(await refused(manager, { discount: '12' })).toMatchObject({ details: { reasonNeeded: true } });
    const kept = await order(manager, { discount: '12', discountReason: 'scratched' });
    expect(kept.lines[0]).toMatchObject({ discount: '12', discountReason: 'scratched' });
    expect((await order(sales, { discount: '10' })).lines[0]?.discountReason).toBe('');
  });
});

describe('changing many prices', () => {
  it('is shown with margins before and after, and done as it was shown', async () => {
    const query = { group: 'ALL', percent: '5', rounding: '0.05' } as const;
    const shown = await manager.call(selling.previewPrices, { query });
    const frame = shown.rows.find((each) => each.code === 'FRAME');
    expect(frame).toMatchObject({ from: '3.20', to: '3.35', cost: '1.20', marginFrom: '62.5', marginTo: '64.18' });
    const done = await manager.call(selling.changePrices, { body: { ...query, print: shown.print, except: [id('BAR')] } });
    expect(done.changed).toBe(shown.rows.length - 1);
    expect(await manager.call(catalogue.getItem, { params: { id: id('FRAME') } })).toMatchObject({ sellPrice: '3.35' });
    expect(await manager.call(catalogue.getItem, { params: { id: id('BAR') } })).toMatchObject({ sellPrice: '0.50' });
  });

  it('is refused where prices moved since it was shown, and by who may not', async () => {
    const query = { percent: '-3' } as const;
    const shown = await manager.call(selling.previewPrices, { query });
    const strips = await manager.call(catalogue.getItem, { params: { id: id('STRIPS') } });
    await manager.call(catalogue.changeItems, { body: { changes: [{ id: strips.id, version: strips.version, fields: { sellPrice: '77' } }] } });
    const before = company.everything();
    expect(await manager.refused(selling.changePrices, { body: { ...query, print: shown.print } })).toMatchObject({ code: 'shownOtherwise' });
    expect(await sales.refused(selling.changePrices, { body: { ...query, print: shown.print } })).toMatchObject({ code: 'notAllowed' });
    expect(await manager.refused(selling.previewPrices, { query: { percent: '-100' } })).toMatchObject({ code: 'badShare' });
    expect(company.everything()).toBe(before);
  });

  it('changes every break of a list’s amounts', async () => {
    const { id: listId } = await list({ code: 'BREAKS', name: 'With breaks', customerId: 1 });
    await add(listId, { itemId: id('WIRE'), way: 'amount', breaks: [{ value: '0.20' }, { from: '100', value: '0.10' }] });
    const query = { listId, percent: '50' } as const;
    const shown = await manager.call(selling.previewPrices, { query });
    await manager.call(selling.changePrices, { body: { ...query, print: shown.print } });
    const { rows } = await manager.call(selling.listPriceEntries, { params: { id: listId } });
    expect(rows[0]?.breaks).toEqual([
      { from: '0', value: '0.30' },
      { from: '100', value: '0.15' },
    ]);
  });
});
