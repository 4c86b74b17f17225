/** Freight and the like by rule: lines that come and go with what an order weighs or is worth, until it is agreed. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api, type BodyIn, type OrderView } from '@terrace/contract';
import { openCompany, type Client, type Company } from './testing/company';

const { accounts, catalogue, selling } = api;
let company: Company;
let manager: Client;
let freight: number;
let crate: number;

beforeEach(async () => {
  company = await openCompany();
  manager = await company.as('manager');
  const { group, unit } = await manager.call(catalogue.getItem, { params: { id: company.id('item', 'SMOKER') } });
  ({ id: freight } = await manager.call(catalogue.createItem, { body: { code: 'FREIGHT', description: 'Freight', group, unit, kind: 'charge' } }));
  ({ id: crate } = await manager.call(catalogue.createItem, {
    body: {
      code: 'CRATE',
      description: 'Crate',
      group,
      unit,
      kind: 'stocked',
      sizes: [{ unit, weight: 900, length: null, width: null, height: null }],
    },
  }));
});
afterEach(async () => {
  company.sound();
  await company.close();
});

const rule = (more: Partial<BodyIn<typeof selling.addChargeRule>> = {}) =>
  manager.call(selling.addChargeRule, {
    body: {
      itemId: freight,
      by: 'weight',
      steps: [
        { from: '5', price: '9.90' },
        { from: '0', price: '6.90' },
      ],
      ...more,
    },
  });
const input = (quantity: string, more: object = {}) => ({
  customerId: 1,
  warehouseId: 1,
  requiredDate: '2027-03-12',
  beyondCredit: true,
  lines: [{ itemId: crate, quantity, price: '20' }],
  ...more,
});
const order = (quantity: string, more: object = {}): Promise<OrderView> => manager.call(selling.createOrder, { body: input(quantity, more) });
const charged = ({ lines }: OrderView): [string, string, boolean][] => lines.map(({ code, amount, byRule }) => [code, amount, byRule]);
const change = async ({ id, version, lines }: OrderView, quantity: string, more: object = {}): Promise<OrderView> =>
  manager.call(selling.changeOrder, {
    params: { id },
    body: { ...input(quantity), version, lines: lines.map((line) => ({ ...line, quantity: line.byRule ? line.quantity : quantity })), ...more },
  });

describe('a rule of charges', () => {
  it('adds its line by what an order weighs, and takes the line along as that changes', async () => {
    await rule();
    const made = await order('5');
    expect(charged(made)).toEqual([
      ['CRATE', '100.00', false],
      ['FREIGHT', '6.90', true],
    ]);
    expect(made.net).toBe('106.90');
    expect(made.lines[1]?.priceSteps).toEqual(['By weight: 4.5 kg, from 0 kg on 6.90.']);
    const again = await manager.call(selling.pricesAgain, { params: { id: made.id } });
    expect(again.lines.map(({ code }) => code)).not.toContain('FREIGHT');
    const more = await change(made, '6');
    expect(charged(more)[1]).toEqual(['FREIGHT', '9.90', true]);
    expect(more.lines[1]?.id).toBe(made.lines[1]?.id);
    const without = await change(more, '6', { charges: false });
    expect(charged(without)).toEqual([['CRATE', '120.00', false]]);
    expect(without.charges).toBe(false);
  });

  it('stands back where somebody types the charge, and where the order is agreed', async () => {
    const kept = await rule();
    const typed = await order('5', {
      lines: [
        { itemId: crate, quantity: '5', price: '20' },
        { itemId: freight, quantity: '1', price: '4' },
      ],
    });
    expect(charged(typed)).toEqual([
      ['CRATE', '100.00', false],
      ['FREIGHT', '4.00', false],
    ]);
    const ruled = await order('5');
    const cheaper = await change(ruled, '5', { lines: ruled.lines.map((line) => ({ ...line, price: line.byRule ? '1' : line.price })) });
    expect(charged(cheaper)[1]).toEqual(['FREIGHT', '1.00', false]);
    const agreed = await order('5', { confirm: true });
    await manager.call(selling.changeChargeRule, { params: { id: kept.id }, body: { ...kept, steps: [{ from: '0', price: '50' }] } });
    expect(charged(await change(agreed, '4'))[1]).toEqual(['FREIGHT', '6.90', true]);
    expect(charged(await order('5'))[1]).toEqual(['FREIGHT', '50.00', true]);
    expect((await manager.refused(selling.changeChargeRule, { params: { id: kept.id }, body: kept })).code).toBe('staleVersion');
  });

  it('weighs what it knows: one of it, a pack of it, or kilograms as they are', async () => {
    await rule();
    await (await company.as('administrator')).call(catalogue.saveUnit, { body: { code: 'kg', name: 'kilogram', decimals: 3 } });
    const { group } = await manager.call(catalogue.getItem, { params: { id: crate } });
    const sized = (unit: string, weight: number) => [{ unit, weight, length: null, width: null, height: null }];
    const base = { group, kind: 'stocked', unit: 'each' } as const;
    const packed = { ...base, code: 'LID', description: 'Lid', packs: [{ code: 'box', factor: '12' }], sizes: sized('box', 6000) };
    const lid = await manager.call(catalogue.createItem, { body: packed });
    const feed = await manager.call(catalogue.createItem, { body: { ...base, code: 'FEED', description: 'Feed', unit: 'kg' } });
    const bee = await manager.call(catalogue.createItem, { body: { ...base, code: 'AIR', description: 'Air' } });
    const words = async (itemId: number, quantity: string): Promise<string | undefined> =>
      (await order('1', { lines: [{ itemId, quantity, price: '1' }] })).lines[1]?.priceSteps[0];
    expect(await words(lid.id, '9')).toBe('By weight: 4.5 kg, from 0 kg on 6.90.');
    expect(await words(feed.id, '7.25')).toBe('By weight: 7.25 kg, from 5 kg on 9.90.');
    expect(await words(bee.id, '500')).toBe('By weight: 0 kg, from 0 kg on 6.90.');
  });

  it('goes by the carrier before one for anybody, and by value in the customer’s currency', async () => {
    await rule({
      by: 'value',
      steps: [
        { from: '0', price: '7.50' },
        { from: '100', price: '0' },
      ],
    });
    await rule({ carrier: 'Moorland Parcels', by: 'value', steps: [{ from: '0', price: '3' }] });
    expect(charged(await order('4'))[1]).toEqual(['FREIGHT', '7.50', true]);
    expect(charged(await order('5'))).toHaveLength(1);
    expect(charged(await order('5', { carrier: 'Moorland Parcels' }))[1]).toEqual(['FREIGHT', '3.00', true]);
    const keeper = await company.as('administrator');
    await keeper.call(catalogue.saveCurrency, { body: { code: 'GBP', name: 'Pound', date: '2027-03-01', rate: '1.25' } });
    const { id: customerId } = await manager.call(catalogue.createCustomer, { body: { code: 'FENWICK', name: 'Fenwick Hives', currency: 'GBP' } });
    const pounds = await order('3', { customerId });
    expect(charged(pounds)[1]).toEqual(['FREIGHT', '6.00', true]);
    expect(pounds.lines[1]?.priceSteps.at(-1)).toContain('In GBP');
  });

  it('is looked at before anything is kept, is divided like any line, and never charged twice', async () => {
    await rule();
    const seen = await manager.call(selling.previewCharges, { body: input('6') });
    expect(seen).toMatchObject({ currency: 'EUR', net: '129.90', charges: [{ code: 'FREIGHT', amount: '9.90' }] });
    expect((await manager.call(selling.listOrders, {})).total).toBe(0);
    const made = await order('6', { confirm: true });
    const [goods, charge] = made.lines;
    const apart = { warehouseId: null, shipTo: '', carrier: '' };
    const parts = [
      {
        ...apart,
        lines: [
          { lineId: goods?.id ?? 0, quantity: '2' },
          { lineId: charge?.id ?? 0, quantity: '1' },
        ],
      },
      { ...apart, lines: [{ lineId: goods?.id ?? 0, quantity: '4' }] },
    ];
    const { orders } = await manager.call(selling.divideOrder, { params: { id: made.id }, body: { version: made.version, parts } });
    const nets = await Promise.all(orders.map(async ({ id }) => Number((await manager.call(selling.getOrder, { params: { id } })).net)));
    expect(nets).toEqual([49.9, 80]);
    expect((await manager.call(accounts.proof)).checks.every((check) => check.holds)).toBe(true);
  });

  it('is refused for what is no charge, twice the same step, and what is below 0', async () => {
    const body = { itemId: freight, by: 'weight', steps: [{ from: '0', price: '1' }] } as const;
    const code = async (more: object): Promise<string> => (await manager.refused(selling.addChargeRule, { body: { ...body, ...more } })).code;
    expect(await code({ itemId: crate })).toBe('notACharge');
    expect(
      await code({
        steps: [
          { from: '1', price: '1' },
          { from: '1.0', price: '2' },
        ],
      }),
    ).toBe('twice');
    expect(await code({ steps: [{ from: '-1', price: '1' }] })).toBe('negative');
    expect(await code({ steps: [{ from: '0', price: '-1' }] })).toBe('negative');
    expect(await manager.call(selling.chargeRules)).toEqual([]);
  });
});
