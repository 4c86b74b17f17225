/** Nowhere can a quantity finer than its unit come into being: every command that takes one is asked to make one. */
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, type AnyRoute } from '@terrace/contract';
import { openCompany, type Client, type Company } from './testing/company';

const { buying, catalogue, dispatch, planning, production, selling, stores } = api;
let company: Company;
let manager: Client;
const known = {
  order: 0,
  orderVersion: 0,
  orderLine: 0,
  purchase: 0,
  purchaseVersion: 0,
  purchaseLine: 0,
  made: 0,
  madeVersion: 0,
  shipment: 0,
  seq: 0,
  suggested: '',
  seen: { quantity: '', due: '' },
  list: 0,
};
const id = (code: string) => company.id('item', code);

beforeAll(async () => {
  company = await openCompany();
  manager = await company.as('manager');
  const order = await manager.call(selling.createOrder, {
    body: {
      customerId: 1,
      warehouseId: 1,
      requiredDate: '2027-03-20',
      lines: [
        { itemId: id('SMOKER'), quantity: '4' },
        { itemId: id('FRAME'), quantity: '30' },
      ],
      confirm: true,
    },
  });
  const lines = [{ itemId: id('SMOKER'), quantity: '20', dueDate: '2027-03-09' }];
  let purchase = await manager.call(buying.createPurchase, { body: { supplierId: 1, warehouseId: 1, lines } });
  purchase = await manager.call(buying.approvePurchase, { params: { id: purchase.id }, body: { version: purchase.version } });
  purchase = await manager.call(buying.sendPurchase, { params: { id: purchase.id }, body: { version: purchase.version } });
  let made = await manager.call(production.createProduction, { body: { itemId: id('FRAME'), warehouseId: 1, quantity: '2', dueDate: '2027-03-12' } });
  made = await manager.call(production.releaseProduction, { params: { id: made.id }, body: { version: made.version } });
  const shipment = await manager.call(dispatch.createShipment, {
    body: { orderId: order.id, lines: [{ orderLineId: order.lines[0]?.id ?? 0, quantity: '1' }] },
  });
  const plan = await manager.call(planning.runPlan);
  const suggested = await manager.call(planning.listSuggestions);
  const suggestedMake = suggested.rows.find((each) => each.kind === 'make');
  const list = await manager.call(selling.createPriceList, { body: { code: 'L', name: 'L' } });
  const again = await manager.call(selling.getOrder, { params: { id: order.id } });
  Object.assign(known, {
    order: order.id,
    orderVersion: again.version,
    orderLine: order.lines[0]?.id,
    purchase: purchase.id,
    purchaseVersion: purchase.version,
    purchaseLine: purchase.lines[0]?.id,
    made: made.id,
    madeVersion: made.version,
    shipment: shipment.id,
    seq: plan.seq,
    suggested: suggestedMake?.id,
    seen: { quantity: suggestedMake?.quantity ?? '', due: suggestedMake?.due ?? '' },
    list: list.id,
  });
});
afterAll(() => company.close());

const orderWith = (quantity: string) => ({ customerId: 1, warehouseId: 1, requiredDate: '2027-03-20', lines: [{ itemId: id('SMOKER'), quantity }] });
const term = { supplierId: 1, price: '1', leadDays: 1 };
const rule = { warehouseId: 1, source: 'buy', leadDays: 1 };

/** Every command that takes a quantity of something counted in whole pieces. */
const COMMANDS: readonly (readonly [string, AnyRoute, (quantity: string) => { params?: unknown; body: unknown }])[] = [
  ['an order', selling.createOrder, (quantity) => ({ body: orderWith(quantity) })],
  [
    'a changed order',
    selling.changeOrder,
    (quantity) => ({ params: { id: known.order }, body: { ...orderWith(quantity), version: known.orderVersion } }),
  ],
  [
    'a purchase order',
    buying.createPurchase,
    (quantity) => ({ body: { supplierId: 1, warehouseId: 1, lines: [{ itemId: id('SMOKER'), quantity, dueDate: '2027-03-09' }] } }),
  ],
  [
    'a receipt',
    buying.receive,
    (quantity) => ({ params: { id: known.purchase }, body: { version: known.purchaseVersion, lines: [{ lineId: known.purchaseLine, quantity }] } }),
  ],
  [
    'a production order',
    production.createProduction,
    (quantity) => ({ body: { itemId: id('FRAME'), warehouseId: 1, quantity, dueDate: '2027-03-12' } }),
  ],
  ['a completion', production.finishProduction, (quantity) => ({ params: { id: known.made }, body: { version: known.madeVersion, quantity } })],
  ['a shipment', dispatch.createShipment, (quantity) => ({ body: { orderId: known.order, lines: [{ orderLineId: known.orderLine, quantity }] } })],
  [
    'a changed shipment',
    dispatch.changeShipment,
    (quantity) => ({ params: { id: known.shipment }, body: { version: 1, lines: [{ orderLineId: known.orderLine, quantity }] } }),
  ],
  [
    'an adjustment by',
    stores.adjust,
    (change) => ({ body: { warehouseId: 1, reason: 'OPENING', lines: [{ itemId: id('SMOKER'), binId: 1, change }] } }),
  ],
  [
    'an adjustment to',
    stores.adjust,
    (newQuantity) => ({ body: { warehouseId: 1, reason: 'OPENING', lines: [{ itemId: id('SMOKER'), binId: 1, newQuantity }] } }),
  ],
  [
    'a released suggestion',
    planning.release,
    (quantity) => ({ body: { seq: known.seq, suggestions: [{ name: known.suggested, seen: known.seen, quantity }] } }),
  ],
  [
    'a pack',
    catalogue.createItem,
    (factor) => ({ body: { code: 'P', description: 'P', group: 'ALL', unit: 'each', packs: [{ code: 'case', factor }] } }),
  ],
  ['a supplier’s minimum', catalogue.setTerm, (minimum) => ({ params: { id: id('SMOKER') }, body: { ...term, minimum } })],
  ['a supplier’s multiple', catalogue.setTerm, (multiple) => ({ params: { id: id('SMOKER') }, body: { ...term, multiple } })],
  ['a supplier’s break', catalogue.setTerm, (from) => ({ params: { id: id('SMOKER') }, body: { ...term, breaks: [{ from, price: '1' }] } })],
  ['a safety stock', api.planning.setRule, (safety) => ({ params: { id: id('SMOKER') }, body: { ...rule, safety } })],
  ['a planned minimum', api.planning.setRule, (minimum) => ({ params: { id: id('SMOKER') }, body: { ...rule, minimum } })],
  ['a planned multiple', api.planning.setRule, (multiple) => ({ params: { id: id('SMOKER') }, body: { ...rule, multiple } })],
  [
    'a price break',
    selling.addPriceEntry,
    (from) => ({ params: { id: known.list }, body: { itemId: id('SMOKER'), way: 'amount', breaks: [{ from, value: '1' }] } }),
  ],
];

/** Quantities with a fraction, from the fifth decimal to the first, and beyond what anything keeps. */
const tooFine = fc
  .tuple(fc.nat({ max: 20 }), fc.integer({ min: 1, max: 7 }), fc.integer({ min: 1, max: 9 }))
  .map(([whole, zeros, digit]) => `${whole}.${'0'.repeat(zeros - 1)}${digit}`);

describe('a quantity finer than its unit', () => {
  it.each(COMMANDS)('is refused in %s, and nothing is changed', async (_name, route, call) => {
    await fc.assert(
      fc.asyncProperty(tooFine, async (quantity) => {
        const before = company.everything();
        const refused = await manager.refused(route, call(quantity));
        expect([quantity, refused.code]).toEqual([quantity, 'tooFine']);
        expect(refused.detail).toMatch(/take \d+ or \d+/);
        expect(company.everything()).toBe(before);
      }),
      { numRuns: 6 },
    );
  });

  it('is nowhere in the database after a day of work', async () => {
    await manager.call(selling.reserveOrder, { params: { id: known.order } });
    const columns = [
      ['balance', 'quantity'],
      ['stock_move', 'quantity'],
      ['reservation', 'quantity'],
      ['customer_order_line', 'quantity'],
      ['purchase_order_line', 'quantity'],
      ['production_order', 'quantity'],
      ['production_component', 'needed'],
    ] as const;
    for (const [table, column] of columns) {
      const finer = company.terrace.store.sqlite
        .prepare(
          `select i.code, q.${column} as quantity from ${table} q join item i on i.id = q.item_id join unit u on u.code = i.unit_code
           where q.${column} % (case u.decimals when 0 then 100000 when 1 then 10000 when 2 then 1000 when 3 then 100 when 4 then 10 else 1 end) <> 0`,
        )
        .all();
      expect([table, finer]).toEqual([table, []]);
    }
  });
});
