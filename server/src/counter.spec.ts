/** The counter: sold, paid and taken back in one, put aside, and the drawer counted. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api, type BodyIn, type SaleView } from '@terrace/contract';
import { openStoreRoom, type StoreRoom } from './testing/store-room';
import type { Client } from './testing/company';

const { accounts, counter, catalogue, dispatch, returns, selling, stores } = api;
let room: StoreRoom;
let clerk: Client;
let pail: number;

beforeEach(async () => {
  room = await openStoreRoom();
  clerk = await room.company.as('sales');
  pail = await room.newItem('PAIL');
  await room.receive(pail, '10', '2.00');
});
afterEach(() => room.closeProven());

type Sale = NonNullable<BodyIn<typeof counter.sell>>;
const line = (more: object = {}): Sale['lines'][number] => ({ itemId: pail, quantity: '1', ...more });
const basket = (more: Partial<Sale> = {}): Sale => ({ warehouseId: 1, lines: [line()], ...more });
const sell = (more: Partial<Sale> = {}): Promise<SaleView> => clerk.call(counter.sell, { body: basket(more) });
const code = async (more: Partial<Sale>): Promise<string> => (await clerk.refused(counter.sell, { body: basket(more) })).code;
const free = async (): Promise<string> => (await room.manager.call(stores.availability, { query: { item: pail, warehouse: 1 } })).free;
const balance = async (account: string): Promise<string | undefined> =>
  (await room.manager.call(accounts.proof)).accounts.find((each) => each.code === account)?.balance;
const open = (float = '100') => clerk.call(counter.openDrawer, { body: { warehouseId: 1, float } });

describe('a sale over the counter', () => {
  it('takes stock, invoices and is paid in several ways with change, at once; the receipt says so', async () => {
    await open();
    const priced = await clerk.call(counter.previewSale, { body: basket({ lines: [line({ quantity: '3', free: '1', discount: '10' })] }) });
    expect(priced).toMatchObject({ net: '18.00', tax: '3.60', total: '21.60', lines: [{ code: 'PAIL', there: '10', amount: '18.00' }] });
    const sale = await sell({
      lines: [line({ quantity: '3', free: '1', discount: '10' })],
      payments: [{ method: 'card', amount: '11.60' }],
      cash: '20',
    });
    expect(sale).toMatchObject({
      number: 'CS-1001',
      customer: 'Cash sale',
      total: '21.60',
      given: '20.00',
      change: '10.00',
      cash: '10.00',
      open: '0.00',
    });
    expect(sale.payments.map(({ method, amount }) => [method, amount])).toEqual([
      ['card', '11.60'],
      ['cash', '10.00'],
    ]);
    expect(sale.receipt).toContain(`${'Change'.padEnd(37)}10.00`);
    expect(sale.receipt.every((text) => text.length <= 42)).toBe(true);
    const { headers, status } = await clerk.agent.get(`/api/papers/receipt/${sale.id}`);
    expect([status, headers['content-type']]).toEqual([200, 'application/pdf']);
    expect(await free()).toBe('7');
    expect((await room.manager.call(selling.getOrder, { params: { id: sale.orderId } })).state).toBe('closed');
    expect([await balance('1010'), await balance('1200')]).toEqual(['110.00', '0.00']);
    // The next one without an account is the same customer.
    await sell({ payments: [{ method: 'card', amount: '12' }] });
    expect((await room.manager.call(catalogue.listCustomers, { query: { find: 'Cash sale' } })).total).toBe(1);
  });

  it('is refused as a whole where something is missing: stock, money, the drawer, the right, a number', async () => {
    const before = room.company.everything();
    expect(await code({ cash: '12' })).toBe('noDrawer');
    expect(await code({})).toBe('notPaid');
    expect(await code({ onAccount: true })).toBe('notPaid');
    expect(await code({ payments: [{ method: 'card', amount: '12.01' }] })).toBe('tooMuch');
    expect(await code({ lines: [line({ quantity: '11' })], payments: [{ method: 'card', amount: '132' }] })).toBe('heldByOthers');
    expect(await code({ lines: [line({ quantity: 'many' })] })).toBe('notANumber');
    const keeper = await room.company.as('storekeeper');
    expect((await keeper.refused(counter.sell, { body: basket() })).code).toBe('notAllowed');
    expect(room.company.everything().replaceAll(/^sequence.*$/gm, '')).toBe(before.replaceAll(/^sequence.*$/gm, ''));
  });

  it('stays open on the account of a customer, whose limit counts then and not for what is paid', async () => {
    const administrator = await room.company.as('administrator');
    await administrator.call(selling.setCreditRule, { body: { rule: 'stop' } });
    const customer = await room.manager.call(catalogue.getCustomer, { params: { id: 1 } });
    await room.manager.call(catalogue.changeCustomer, { params: { id: 1 }, body: { ...customer, creditLimit: '20' } });
    const sale = await sell({ customerId: 1, onAccount: true, payments: [{ method: 'card', amount: '2' }] });
    expect(sale).toMatchObject({ customerId: 1, open: '10.00' });
    expect(await code({ customerId: 1, onAccount: true, lines: [line({ quantity: '2' })] })).toBe('creditLimit');
    expect(await sell({ customerId: 1, lines: [line({ quantity: '2' })], payments: [{ method: 'card', amount: '24' }] })).toMatchObject({
      open: '0.00',
    });
  });

  it('takes the serial number that was scanned', async () => {
    const scale = await room.newItem('SCALE', { tracking: 'serial' });
    await room.receive(scale, '2', '40.00', [{ serials: 'S-1 S-2' }]);
    const payments = [{ method: 'card' as const, amount: '12' }];
    expect(await code({ lines: [{ itemId: scale, quantity: '1' }], payments })).toBe('serialNeeded');
    const sale = await sell({ lines: [{ itemId: scale, quantity: '1', serials: 'S-2' }], payments });
    const { pieces } = await clerk.call(counter.findReceipt, { query: { number: sale.number.toLowerCase() } });
    expect(pieces).toMatchObject([{ code: 'SCALE', serial: 'S-2', left: '1' }]);
  });

  it('sold twice by a lost answer is sold once', async () => {
    const body = basket({ payments: [{ method: 'card', amount: '12' }] });
    const [one, two] = [await clerk.call(counter.sell, { body, key: 'sale-0001' }), await clerk.call(counter.sell, { body, key: 'sale-0001' })];
    expect(two.id).toBe(one.id);
    expect(await free()).toBe('9');
  });
});

describe('a return against a receipt', () => {
  it('brings stock back at its cost, gives the money out of the drawer, and no more than was sold', async () => {
    await open();
    const sale = await sell({ lines: [line({ quantity: '2' })], cash: '24' });
    const { pieces } = await clerk.call(counter.findReceipt, { query: { number: sale.number } });
    const lines = [{ shipmentLineId: pieces[0]?.shipmentLineId ?? 0, quantity: '1' }];
    const back = await clerk.call(counter.returnSale, { params: { id: sale.id }, body: { reason: 'too small', good: true, method: 'cash', lines } });
    expect(back).toMatchObject({ number: 'CS-1002', returnOf: 'CS-1001', total: '-12.00', cash: '-12.00', open: '0.00' });
    expect([await free(), await room.worthOf('PAIL')]).toEqual(['9', '18.00']);
    const held = await clerk.call(counter.returnSale, { params: { id: sale.id }, body: { reason: 'leaks', good: false, method: 'credit', lines } });
    expect(held).toMatchObject({ cash: '0.00', open: '-12.00' });
    expect(await free()).toBe('9');
    const more = await clerk.refused(counter.returnSale, { params: { id: sale.id }, body: { reason: 'x', good: true, method: 'cash', lines } });
    expect(more.code).toBe('tooMuch');
    expect((await clerk.refused(counter.findReceipt, { query: { number: back.number } })).code).toBe('wrongState');
    expect((await clerk.refused(counter.findReceipt, { query: { number: 'CS-9' } })).code).toBe('unknownCode');
    expect((await room.manager.call(returns.listReturns, {})).rows.map(({ state }) => state)).toEqual(['arrived', 'done']);
    expect(await clerk.call(counter.drawer, { query: { warehouse: 1 } })).toMatchObject({ drawer: { expected: '112.00', sales: 2 } });
  });
});

describe('the drawer', () => {
  it('is opened once, counted against what should be in it, and begins with what it was left with', async () => {
    const drawer = await open('150');
    expect((await clerk.refused(counter.openDrawer, { body: { warehouseId: 1, float: '1' } })).code).toBe('alreadyOpen');
    await sell({ cash: '50' });
    const close = (body: { counted: string; left: string; version?: number }) => ({
      params: { id: drawer.id },
      body: { version: drawer.version, ...body },
    });
    expect((await clerk.refused(counter.closeDrawer, close({ counted: '160', left: '161' }))).code).toBe('tooMuch');
    const closed = await clerk.call(counter.closeDrawer, close({ counted: '161.50', left: '100' }));
    expect(closed).toMatchObject({ expected: '162.00', counted: '161.50', difference: '-0.50', left: '100.00' });
    expect([await balance('1010'), await balance('5420')]).toEqual(['100.00', '0.50']);
    expect((await clerk.refused(counter.closeDrawer, close({ counted: '1', left: '1', version: closed.version }))).code).toBe('wrongState');
    expect(await clerk.call(counter.drawer, { query: { warehouse: 1 } })).toEqual({ drawer: null, left: '100.00' });
    await open('120');
    expect(await balance('1010')).toBe('120.00');
    expect((await clerk.call(counter.listDrawers, {})).rows).toMatchObject([{ counted: null, difference: null }, { difference: '-0.50' }]);
  });
});

describe('a basket that was put aside', () => {
  it('is taken up once, by whoever comes first, as it was', async () => {
    const { id } = await clerk.call(counter.park, { body: { ...basket({ lines: [line({ quantity: '4', discount: '5' })] }), words: 'red coat' } });
    expect(await clerk.call(counter.listParked, { query: { warehouse: 1 } })).toMatchObject([{ id, words: 'red coat', lines: 1 }]);
    expect(await clerk.call(counter.listParked, { query: { warehouse: 2 } })).toEqual([]);
    const taken = await room.manager.call(counter.takeUp, { params: { id } });
    expect(taken.basket.lines).toMatchObject([{ itemId: pail, quantity: '4', discount: '5' }]);
    expect((await clerk.refused(counter.takeUp, { params: { id } })).code).toBe('notFound');
  });
});

describe('cash that accounts take', () => {
  it('goes through an open drawer that is named, or to the bank; what is taken back comes out again', async () => {
    const { manager } = room;
    const drawer = await open();
    const invoiced = async (): Promise<{ id: number; version: number; total: string }> => {
      const id = await room.confirmed(pail, '1');
      const { lines } = await manager.call(selling.getOrder, { params: { id } });
      const made = await manager.call(dispatch.createShipment, { body: { orderId: id, lines: [{ orderLineId: lines[0]?.id ?? 0, quantity: '1' }] } });
      await manager.call(dispatch.ship, { params: { id: made.id }, body: { version: made.version } });
      return manager.call(selling.invoiceOrder, { params: { id }, body: {} });
    };
    const expected = async (): Promise<string> => (await clerk.call(counter.listDrawers, {})).rows[0]?.expected ?? '';
    const pay = (id: number, more: object) => ({ params: { id }, body: { amount: '12', method: 'cash' as const, ...more } });
    expect(await manager.call(accounts.openDrawers, {})).toEqual([{ id: drawer.id, number: drawer.number, warehouse: 'WORKS' }]);
    const [first, second] = [await invoiced(), await invoiced()];
    await manager.call(accounts.payInvoice, pay(first.id, { drawerId: drawer.id }));
    await manager.call(accounts.payInvoice, pay(second.id, {}));
    expect([await expected(), await balance('1010')]).toEqual(['112.00', '112.00']);
    const refused = async (more: object): Promise<string> => (await manager.refused(accounts.recordPayment, { body: more })).code;
    const ahead = { customerId: 1, amount: '5', method: 'cash', settle: [] };
    expect(await refused({ ...ahead, method: 'card', drawerId: drawer.id })).toBe('notCash');
    const payment = await manager.call(accounts.recordPayment, { body: { ...ahead, method: 'cash', drawerId: drawer.id } });
    expect(await expected()).toBe('117.00');
    // The drawer is counted and closed; what is given back then comes out of the one that is open.
    const { rows } = await clerk.call(counter.listDrawers, {});
    await clerk.call(counter.closeDrawer, {
      params: { id: drawer.id },
      body: { version: rows[0]?.version ?? 0, counted: '117', left: '50', note: '' },
    });
    expect(await refused({ ...ahead, drawerId: drawer.id })).toBe('wrongState');
    expect((await manager.refused(accounts.reversePayment, { params: { id: payment.id } })).code).toBe('noDrawer');
    await open('50');
    await manager.call(accounts.reversePayment, { params: { id: payment.id } });
    expect([await expected(), await balance('1010')]).toEqual(['45.00', '45.00']);
  });

  it('that a credit note gives back comes out of the drawer that is named, as long as as much should be in it', async () => {
    const { manager } = room;
    const drawer = await open('20');
    const sale = await sell({ lines: [line({ quantity: '3' })], payments: [{ method: 'card', amount: '36' }] });
    const { version, lines } = await manager.call(accounts.getInvoice, { params: { id: sale.invoiceId } });
    const note = await manager.call(accounts.creditInvoice, {
      params: { id: sale.invoiceId },
      body: { version, reason: 'dented', lines: [{ lineId: lines[0]?.id ?? 0, quantity: '3' }] },
    });
    const refund = (amount: string, seen = note.version) => ({
      params: { id: note.id },
      body: { version: seen, amount, method: 'cash' as const, drawerId: drawer.id },
    });
    expect((await manager.refused(accounts.refundCredit, refund('20.01'))).code).toBe('notEnough');
    await manager.call(accounts.refundCredit, refund('12'));
    expect((await clerk.call(counter.listDrawers, {})).rows[0]?.expected).toBe('8.00');
    expect(await balance('1010')).toBe('8.00');
    const { payments } = await manager.call(accounts.getInvoice, { params: { id: note.id } });
    await manager.call(accounts.reversePayment, { params: { id: payments[0]?.documentId ?? 0 } });
    expect((await clerk.call(counter.listDrawers, {})).rows[0]?.expected).toBe('20.00');
  });

  it('of a sale is given back out of the drawer, too', async () => {
    await open();
    const sale = await sell({ cash: '12' });
    const { payments } = await room.manager.call(accounts.getInvoice, { params: { id: sale.invoiceId } });
    await room.manager.call(accounts.reversePayment, { params: { id: payments[0]?.documentId ?? 0 } });
    expect((await clerk.call(counter.listDrawers, {})).rows[0]?.expected).toBe('100.00');
  });
});
