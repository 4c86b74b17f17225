/** Selling in the customer's currency: prices, sums and rates kept on documents, the books in their own, gains and losses on payment. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api, type InvoiceView, type OrderView } from '@terrace/contract';
import { paperOf } from './papers';
import { openCompany, somebody, type Client, type Company } from './testing/company';

const { accounts, catalogue, counter, dispatch, selling } = api;
let company: Company;
let manager: Client;
let keeper: Client;
let customerId: number;

beforeEach(async () => {
  company = await openCompany();
  manager = await company.as('manager');
  keeper = await company.as('administrator');
  await keeper.call(catalogue.saveCurrency, { body: { code: 'GBP', name: 'Pound', date: '2027-03-01', rate: '1.25' } });
  ({ id: customerId } = await manager.call(catalogue.createCustomer, {
    body: { code: 'FENWICK', name: 'Fenwick Hives', currency: 'GBP', taxRate: 2000 },
  }));
});
afterEach(async () => {
  company.sound();
  const { checks } = await manager.call(accounts.proof);
  expect(checks.filter((check) => !check.holds)).toEqual([]);
  await company.close();
});

const item = (code: string): number => company.id('item', code);
const order = (quantity: string, more: object = {}, confirm = true): Promise<OrderView> =>
  manager.call(selling.createOrder, {
    body: {
      customerId,
      warehouseId: 1,
      requiredDate: '2027-03-12',
      confirm,
      beyondCredit: true,
      lines: [{ itemId: item('SMOKER'), quantity, ...more }],
    },
  });
async function invoiced(quantity: string, price: string): Promise<InvoiceView> {
  const { id } = await order(quantity, { price });
  const made = await manager.call(dispatch.createShipment, { body: { orderId: id } });
  await manager.call(dispatch.ship, { params: { id: made.id }, body: { version: made.version } });
  return manager.call(selling.invoiceOrder, { params: { id }, body: {} });
}
const rateOf = (rate: string, date: string) => keeper.call(catalogue.saveCurrency, { body: { code: 'GBP', date, rate } });
const balance = async (code: string): Promise<string | undefined> =>
  (await manager.call(accounts.proof)).accounts.find((each) => each.code === code)?.balance;

describe('an order of a customer who pays in another currency', () => {
  it('has its prices and sums in theirs, at the rate of its day, which stays with it', async () => {
    const listed = await manager.call(selling.explainPrice, { query: { itemId: item('SMOKER'), customerId, quantity: '3' } });
    const ours = await manager.call(selling.explainPrice, { query: { itemId: item('SMOKER'), quantity: '3' } });
    expect(listed).toMatchObject({ wantedIn: 'GBP', price: (Number(ours.price) / 1.25).toFixed(2), margin: ours.margin });
    expect(listed.steps.at(-1)).toContain('In GBP that is');
    const made = await order('3', { price: '20' }, false);
    expect(made).toMatchObject({ currency: 'GBP', rate: '1.25', net: '60.00', total: '72.00', booksTotal: '90.00' });
    await rateOf('1.5', '2027-03-01');
    expect(await manager.call(selling.getOrder, { params: { id: made.id } })).toMatchObject({ rate: '1.25', booksTotal: '90.00' });
    const { rows } = await manager.call(selling.listOrders, {});
    expect(rows[0]).toMatchObject({ total: '90.00', net: '75.00', theirTotal: '72.00', currency: 'GBP' });
    const paper = JSON.stringify(paperOf(company.terrace.commands.look(somebody('manager')), 'customerOrder', made.id));
    expect(paper).toContain('Total GBP');
  });

  it('counts against what they may owe in the books’ currency', async () => {
    const customer = await manager.call(catalogue.getCustomer, { params: { id: customerId } });
    await manager.call(catalogue.changeCustomer, { params: { id: customerId }, body: { ...customer, creditLimit: '89.99', taxCode: null } });
    const body = {
      customerId,
      warehouseId: 1,
      requiredDate: '2027-03-12',
      confirm: true,
      lines: [{ itemId: item('SMOKER'), quantity: '3', price: '20' }],
    };
    const refused = await manager.refused(selling.createOrder, { body });
    expect(refused).toMatchObject({ code: 'beyondCredit', detail: expect.stringContaining('90.00') as string });
  });

  it('can’t be entered without a rate, and is as soon as one is there', async () => {
    await keeper.call(catalogue.saveCurrency, { body: { code: 'USD', name: 'Dollar' } });
    const { id } = await manager.call(catalogue.createCustomer, { body: { code: 'AWAY', name: 'Away', currency: 'USD' } });
    const body = { customerId: id, warehouseId: 1, requiredDate: '2027-03-12', lines: [{ itemId: item('SMOKER'), quantity: '1' }] };
    const refused = await manager.refused(selling.createOrder, { body });
    expect(refused).toMatchObject({ code: 'noRate', details: { currency: 'USD', day: '2027-03-01' } });
    await keeper.call(catalogue.saveCurrency, { body: { code: 'USD', date: '2027-03-01', rate: '0.9' } });
    expect((await manager.call(selling.createOrder, { body })).currency).toBe('USD');
    expect((await keeper.refused(catalogue.saveCurrency, { body: { code: 'XYZ', rate: '1' } })).code).toBe('unknownCurrency');
  });

  it('keeps its customer in their currency as long as anything is open, and is not sold at the counter', async () => {
    const made = await order('1', { price: '20' });
    const customer = await manager.call(catalogue.getCustomer, { params: { id: customerId } });
    const other = { params: { id: customerId }, body: { ...customer, currency: 'EUR', taxCode: null } };
    expect(await manager.refused(catalogue.changeCustomer, other)).toMatchObject({
      code: 'stillOpen',
      detail: expect.stringContaining(made.number) as string,
    });
    await manager.call(selling.cancelOrder, { params: { id: made.id }, body: { version: made.version, reason: 'off' } });
    await manager.call(catalogue.changeCustomer, other);
    const back = await manager.call(catalogue.getCustomer, { params: { id: customerId } });
    await manager.call(catalogue.changeCustomer, { params: { id: customerId }, body: { ...back, currency: 'GBP', taxCode: null } });
    const basket = { warehouseId: 1, customerId, lines: [{ itemId: item('SMOKER'), quantity: '1' }] };
    expect((await manager.refused(counter.previewSale, { body: basket })).code).toBe('otherCurrency');
  });

  it('is divided into parts in the same currency, and a quote becomes an order in it at the rate of that day', async () => {
    const made = await order('3', { price: '19.99' });
    const half = { warehouseId: null, shipTo: '', carrier: '' };
    const line = made.lines[0]?.id ?? 0;
    const parts = ['1', '2'].map((quantity) => ({ ...half, lines: [{ lineId: line, quantity }] }));
    await manager.call(selling.divideOrder, { params: { id: made.id }, body: { version: made.version, parts } });
    const { rows } = await manager.call(selling.listOrders, {});
    expect(rows.map(({ currency, theirTotal }) => [currency, theirTotal]).sort()).toEqual([
      ['GBP', '23.99'],
      ['GBP', '47.97'],
    ]);
    const quote = await manager.call(selling.createQuote, {
      body: {
        kind: 'quote',
        validUntil: '2027-03-31',
        probability: 50,
        customerId,
        warehouseId: 1,
        requiredDate: '2027-03-20',
        lines: [{ itemId: item('SMOKER'), quantity: '1', price: '20' }],
      },
    });
    company.turnTo('2027-03-05');
    await rateOf('1.2', '2027-03-05');
    const ordered = await manager.call(selling.orderFromQuote, { params: { id: quote.id }, body: { version: quote.version } });
    expect(ordered).toMatchObject({ currency: 'GBP', rate: '1.2', net: '20.00', booksTotal: '28.80' });
  });
});

describe('an invoice in another currency', () => {
  it('is posted in the books at the rate of its day, and says its tax there', async () => {
    const made = await invoiced('3', '20');
    expect(made).toMatchObject({ currency: 'GBP', rate: '1.25', total: '72.00', booksTotal: '90.00', booksTax: '15.00' });
    expect([await balance('1200'), await balance('2300')]).toEqual(['90.00', '-15.00']);
    const paper = JSON.stringify(paperOf(company.terrace.commands.look(somebody('manager')), 'invoice', made.id));
    expect(paper).toContain('Total GBP');
    expect(paper).toContain('Tax in EUR, 1 GBP = 1.25 EUR');
    const { rows } = await manager.call(accounts.debtors, {});
    expect(rows).toMatchObject([{ customer: 'Fenwick Hives', currency: 'GBP', balance: '90.00' }]);
    const figures = await manager.call(selling.figures, { query: { from: '2027-02-22', until: '2027-03-07' } });
    expect(figures).toMatchObject({ intake: '75.00', margin: { revenue: '75.00' } });
  });

  it('paid at another rate tells the gain or the loss, in parts and to the cent', async () => {
    const made = await invoiced('3', '20');
    company.turnTo('2027-03-10');
    await rateOf('1.3', '2027-03-10');
    const pay = (amount: string, more: object = {}) =>
      manager.call(accounts.recordPayment, {
        body: { customerId, amount, method: 'transfer', settle: [{ invoiceId: made.id, amount }], ...more },
      });
    const first = await pay('24');
    expect(first).toMatchObject({ currency: 'GBP', rate: '1.3', booksAmount: '31.20' });
    // A third of 90.00 was owed for it.
    expect([await balance('1000'), await balance('1200'), await balance('4050')]).toEqual(['31.20', '60.00', '-1.20']);
    await pay('48', { rate: '1.2' });
    expect([await balance('1000'), await balance('1200'), await balance('5430')]).toEqual(['88.80', '0.00', '2.40']);
    expect(await manager.call(accounts.getInvoice, { params: { id: made.id } })).toMatchObject({ state: 'paid', open: '0.00' });
    await manager.call(accounts.reversePayment, { params: { id: first.id } });
    expect([await balance('1200'), await balance('4050')]).toEqual(['30.00', '0.00']);
    const account = await manager.call(accounts.customerAccount, { params: { id: customerId } });
    expect(account).toMatchObject({ currency: 'GBP', balance: '24.00' });
  });

  it('is closed by what was paid ahead at the rate of then, and by a credit note at its own', async () => {
    const ahead = await manager.call(accounts.recordPayment, { body: { customerId, amount: '50', method: 'transfer', settle: [] } });
    expect(await balance('2200')).toBe('-62.50');
    company.turnTo('2027-03-10');
    await rateOf('1.1', '2027-03-10');
    const made = await invoiced('1', '20');
    expect(made.booksTotal).toBe('26.40');
    await manager.call(accounts.settlePayment, { params: { id: ahead.id }, body: { settle: [{ invoiceId: made.id, amount: '24' }] } });
    expect([await balance('2200'), await balance('1200'), await balance('4050')]).toEqual(['-32.50', '0.00', '-3.60']);
    const now = await manager.call(accounts.getInvoice, { params: { id: made.id } });
    const credit = await manager.call(accounts.creditInvoice, {
      params: { id: made.id },
      body: { version: now.version, reason: 'dented', lines: [{ lineId: now.lines[0]?.id ?? 0, quantity: '1' }] },
    });
    const [note] = (await manager.call(accounts.listInvoices, { query: { find: credit.number } })).rows;
    expect(note).toMatchObject({ currency: 'GBP', theirTotal: '-24.00', total: '-26.40' });
    await rateOf('1.3', '2027-03-10');
    const dearer = await invoiced('1', '20');
    const open = await manager.call(accounts.getInvoice, { params: { id: note?.id ?? 0 } });
    await manager.call(accounts.settleCredit, {
      params: { id: open.id },
      body: { version: open.version, settle: [{ invoiceId: dearer.id, amount: '24' }] },
    });
    // 31.20 were owed, 26.40 were given back.
    expect([await balance('1200'), await balance('5430')]).toEqual(['0.00', '4.80']);
    const closed = await manager.call(accounts.getInvoice, { params: { id: open.id } });
    expect((await manager.call(accounts.reverseInvoice, { params: { id: open.id }, body: { version: closed.version } })).state).toBe('reversed');
    expect([await balance('1200'), await balance('5430')]).toEqual(['31.20', '0.00']);
  });

  it('lets off for paying early what it is in the books, and takes no other currency’s money', async () => {
    await keeper.call(catalogue.savePaymentTerm, { body: { code: 'SOON', name: 'Soon', days: 30, discountDays: 10, discount: '2' } });
    const customer = await manager.call(catalogue.getCustomer, { params: { id: customerId } });
    await manager.call(catalogue.changeCustomer, { params: { id: customerId }, body: { ...customer, paymentTerm: 'SOON', taxCode: null } });
    const made = await invoiced('5', '20');
    expect(made.letOff).toBe('2.40');
    await manager.call(accounts.payInvoice, { params: { id: made.id }, body: { amount: '117.60', method: 'transfer', early: true } });
    expect([await balance('1000'), await balance('4040'), await balance('4050')]).toEqual(['147.00', '2.50', '0.00']);
    const euro = await manager.call(selling.createOrder, {
      body: { customerId: 1, warehouseId: 1, requiredDate: '2027-03-12', lines: [{ itemId: item('SMOKER'), quantity: '1' }] },
    });
    const ahead = await manager.refused(accounts.recordPayment, { body: { customerId, amount: '5', method: 'card', settle: [], orderId: euro.id } });
    expect(ahead.code).toBe('otherCustomer');
  });
});
