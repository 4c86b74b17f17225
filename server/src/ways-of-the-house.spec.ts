/** What the company decides for all documents: tax by day, payment terms, tolerances, approval, reservation, accounts. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api, type HouseRules } from '@terrace/contract';
import { openCompany, TODAY, type Client, type Company } from './testing/company';

const { accounts, buying, catalogue, selling, setup, stores } = api;
let company: Company;
let manager: Client;
let administrator: Client;

beforeEach(async () => {
  company = await openCompany();
  manager = await company.as('manager');
  administrator = await company.as('administrator');
});
afterEach(async () => {
  company.sound();
  await company.close();
});

async function decide(rules: Partial<HouseRules>): Promise<void> {
  const now = await administrator.call(setup.houseRules);
  await administrator.call(setup.saveHouseRules, { body: { ...now, ...rules } });
}

const line = <M extends object>(code: string, quantity: string, more: M) => ({ itemId: company.id('item', code), quantity, ...more });
async function order(quantity = '2', requiredDate = '2027-03-12') {
  const { id, version } = await manager.call(selling.createOrder, {
    body: { customerId: 1, warehouseId: 1, requiredDate, lines: [line('SMOKER', quantity, {})] },
  });
  return manager.call(selling.confirmOrder, { params: { id }, body: { version } });
}
const purchase = (quantity: string, price?: string, by = manager) =>
  by.call(buying.createPurchase, {
    body: { supplierId: 1, warehouseId: 1, lines: [line('SMOKER', quantity, { dueDate: '2027-03-20', ...(price ? { price } : {}) })] },
  });

async function customerWith(more: Record<string, string>): Promise<void> {
  const { id: _id, owes: _owes, openOrders: _open, ...customer } = await manager.call(catalogue.getCustomer, { params: { id: 1 } });
  await manager.call(catalogue.changeCustomer, { params: { id: 1 }, body: { ...customer, ...more } });
}

async function invoiced(quantity: string) {
  const { id } = await order(quantity);
  const shipment = await manager.call(api.dispatch.createShipment, { body: { orderId: id } });
  const picked = await manager.call(api.dispatch.startPicking, { params: { id: shipment.id }, body: { version: shipment.version } });
  await manager.call(api.dispatch.ship, { params: { id: shipment.id }, body: { version: picked.version } });
  return manager.call(selling.invoiceOrder, { params: { id } });
}

describe('a tax rate', () => {
  it('holds from its day on: what is entered before keeps the old one', async () => {
    await customerWith({ taxCode: 'FULL' });
    const before = await order();
    const body = { code: 'FULL', name: 'Full rate', rate: '21', from: '2027-03-01' };
    const ground = await administrator.call(catalogue.saveTaxCode, { body });
    expect(ground.taxCodes[0]).toMatchObject({
      rate: '21',
      rates: [
        { from: '', rate: '20' },
        { from: '2027-03-01', rate: '21' },
      ],
    });
    await administrator.call(catalogue.saveTaxCode, { body: { ...body, rate: '23', from: '2027-07-01' } });
    expect((await manager.call(catalogue.getCustomer, { params: { id: 1 } })).taxRate).toBe(2100);
    expect((await order()).tax).toBe('15.12');
    expect((await manager.call(selling.getOrder, { params: { id: before.id } })).tax).toBe('14.40');
  });

  it('can’t be changed for days that have passed, nor begin with none', async () => {
    const body = { code: 'FULL', name: 'Full rate', rate: '21', from: '2027-02-28' };
    expect(await administrator.refused(catalogue.saveTaxCode, { body })).toMatchObject({ code: 'passedDay' });
    expect(await administrator.refused(catalogue.saveTaxCode, { body: { code: 'LOW', name: 'Low' } })).toMatchObject({ code: 'needsRate' });
    const ground = await administrator.call(catalogue.saveTaxCode, { body: { code: 'FULL', name: 'The full rate' } });
    expect(ground.taxCodes[0]).toMatchObject({ name: 'The full rate', rate: '20' });
  });
});

describe('payment terms', () => {
  const early = { code: 'EARLY', name: 'Early', days: 30, discountDays: 10, discount: '2' };

  it('go with the invoice, and what changes later does not change it', async () => {
    await administrator.call(catalogue.savePaymentTerm, { body: early });
    await customerWith({ paymentTerm: 'EARLY' });
    const invoice = await invoiced('1');
    expect(invoice).toMatchObject({ dueDate: '2027-03-31', terms: 'within 30 days; 2 % off within 10 days', discountUntil: '2027-03-11' });
    const { paymentTerms } = await administrator.call(catalogue.getGround);
    expect(paymentTerms[0]).toMatchObject({ customers: 1, suppliers: 0 });
    await administrator.call(catalogue.savePaymentTerm, { body: { ...early, days: 60, version: paymentTerms[0]?.version ?? 0 } });
    expect((await manager.call(accounts.getInvoice, { params: { id: invoice.id } })).dueDate).toBe('2027-03-31');
  });

  it('are refused where they make no sense, and where two change them at once', async () => {
    expect(await administrator.refused(catalogue.savePaymentTerm, { body: { ...early, discountDays: 40 } })).toMatchObject({ code: 'badDiscount' });
    await administrator.call(catalogue.savePaymentTerm, { body: early });
    expect(await administrator.refused(catalogue.savePaymentTerm, { body: { ...early, version: 9 } })).toMatchObject({ code: 'staleVersion' });
    const { id: _i, owes: _o, openOrders: _p, ...customer } = await manager.call(catalogue.getCustomer, { params: { id: 1 } });
    const refusal = await manager.refused(catalogue.changeCustomer, { params: { id: 1 }, body: { ...customer, paymentTerm: 'NEVER' } });
    expect(refusal).toMatchObject({ code: 'unknownChoice' });
  });
});

describe('tolerances of a purchase', () => {
  async function sent(quantity: string) {
    const draft = await purchase(quantity);
    const approved = await manager.call(buying.approvePurchase, { params: { id: draft.id }, body: { version: draft.version } });
    return manager.call(buying.sendPurchase, { params: { id: draft.id }, body: { version: approved.version } });
  }
  const receive = (view: { id: number; version: number; lines: { id: number }[] }, quantity: string) => ({
    params: { id: view.id },
    body: { version: view.version, deliveryNote: '', binId: 1, lines: [{ lineId: view.lines[0]?.id ?? 0, quantity }] },
  });

  it('say how much more may arrive', async () => {
    await decide({ overDelivery: 1000 });
    const view = await sent('100');
    expect(view.lines[0]?.most).toBe('110');
    await manager.refused(buying.receive, receive(view, '111'));
    expect((await manager.call(buying.receive, receive(view, '110'))).state).toBe('received');
  });

  it('say how little may be missing without being expected any more; a receipt that is taken back expects it again', async () => {
    await decide({ underDelivery: 300 });
    const view = await sent('100');
    const most = await manager.call(buying.receive, receive(view, '96'));
    expect(most).toMatchObject({ state: 'partReceived', total: '1780.00' });
    const all = await manager.call(buying.receive, receive(most, '1'));
    expect(all).toMatchObject({ state: 'received', total: '1726.60' });
    expect(all.lines[0]).toMatchObject({ received: '97', cancelled: '3', outstanding: '0' });
    const back = await manager.call(buying.reverseReceipt, { params: { id: all.receipts.at(-1)?.id ?? 0 } });
    expect(back.lines[0]).toMatchObject({ received: '96', cancelled: '0', outstanding: '4' });
    expect(back.total).toBe('1780.00');
  });
});

describe('approval of a purchase', () => {
  it('is needed for each, unless the company says up to what none is', async () => {
    const draft = await purchase('2');
    expect(draft.approval).toMatch(/Every purchase order/);
    expect((await manager.refused(buying.sendPurchase, { params: { id: draft.id }, body: { version: draft.version } })).code).toBe('wrongState');
    await decide({ approvedUpTo: 5000 });
    const now = await manager.call(buying.getPurchase, { params: { id: draft.id } });
    expect(now.approval).toBe('');
    expect((await manager.call(buying.sendPurchase, { params: { id: draft.id }, body: { version: now.version } })).state).toBe('sent');
  });

  it('is needed where it is more than that, dearer than agreed beyond tolerance, or not agreed at all', async () => {
    await decide({ approvedUpTo: 5000, priceDifference: 200 });
    expect((await purchase('3')).approval).toMatch(/53.40 are more than the 50.00/);
    expect(await purchase('1', '18.15')).toMatchObject({ state: 'approved', approval: '' });
    expect((await purchase('1', '18.50')).approval).toMatch(/SMOKER at 18.50 is dearer than the 17.80 agreed/);
    const strips = { supplierId: 1, warehouseId: 1, lines: [line('STRIPS', '1', { dueDate: '2027-03-20', price: '1' })] };
    expect((await manager.call(buying.createPurchase, { body: strips })).approval).toMatch(/No price of STRIPS/);
  });

  it('may be kept from who entered it', async () => {
    await decide({ ownApproval: false });
    const mine = await purchase('2');
    expect(await manager.refused(buying.approvePurchase, { params: { id: mine.id }, body: { version: mine.version } })).toMatchObject({
      code: 'ownOrder',
    });
    const theirs = await purchase('2', undefined, await company.as('buyer'));
    expect((await manager.call(buying.approvePurchase, { params: { id: theirs.id }, body: { version: theirs.version } })).state).toBe('approved');
  });
});

describe('reservation', () => {
  const reserved = async (id: number): Promise<string> => (await manager.call(selling.getOrder, { params: { id } })).lines[0]?.reserved ?? '';

  it('takes all that is free, what is wanted soon, or nothing before somebody asks', async () => {
    expect((await order('1')).lines[0]?.reserved).toBe('1');
    await decide({ reserve: 'soon', reserveDays: 5 });
    expect((await order('1', '2027-03-06')).lines[0]?.reserved).toBe('1');
    const later = await order('1', '2027-03-07');
    expect(later.lines[0]?.reserved).toBe('0');
    expect(later.promiseDate).toBe('2027-03-07');
    await decide({ reserve: 'nothing' });
    const none = await order('1', TODAY);
    expect(none.lines[0]?.reserved).toBe('0');
    await manager.call(selling.reserveOrder, { params: { id: none.id } });
    expect(await reserved(none.id)).toBe('1');
  });
});

describe('the account of a use', () => {
  it('is another one only while nothing is posted on either; what follows is posted there', async () => {
    await administrator.call(setup.saveAccount, { body: { code: '1201', name: 'Receivables of shops' } });
    const view = await administrator.call(setup.saveAccountUse, { body: { use: 'receivables', account: '1201' } });
    expect(view.uses.find(({ use }) => use === 'receivables')).toMatchObject({ account: '1201', stays: '' });
    await invoiced('1');
    const proof = await manager.call(accounts.proof);
    expect(proof.accounts.find(({ code }) => code === '1201')?.balance).toBe('43.20');
    expect(proof.checks.every(({ holds }) => holds)).toBe(true);
    const refusal = await administrator.refused(setup.saveAccountUse, { body: { use: 'receivables', account: '1200' } });
    expect(refusal).toMatchObject({ code: 'inUse' });
    expect(refusal.detail).toMatch(/A line is posted on 1201/);
  });

  it('is no account of another use, none that is not there, and none with something on it', async () => {
    for (const [account, code] of [
      ['1000', 'usedOtherwise'],
      ['9999', 'unknownAccount'],
      ['1400', 'inUse'],
    ] as const)
      expect(await administrator.refused(setup.saveAccountUse, { body: { use: 'grni', account } })).toMatchObject({ code });
  });
});

describe('the rules of the house', () => {
  it('are changed by one at a time, with every change in the history', async () => {
    const now = await administrator.call(setup.houseRules);
    await administrator.call(setup.saveHouseRules, { body: { ...now, overDelivery: 700 } });
    expect(await administrator.refused(setup.saveHouseRules, { body: { ...now, overDelivery: 900 } })).toMatchObject({ code: 'staleVersion' });
    expect((await administrator.call(setup.houseRules)).overDelivery).toBe(700);
    await manager.refused(setup.saveHouseRules, { body: now });
  });

  it('keep shifts with the calendar, and refuse two at once', async () => {
    const calendar = { code: 'STD', workdays: [1, 2, 3, 4, 5], holidays: [], version: 1 };
    const ground = await manager.call(catalogue.saveCalendar, { body: { ...calendar, shifts: 'Early Mon-Fri 6:00-14:00' } });
    expect(ground.calendars[0]?.shifts).toBe('Early Mon-Fri 06:00-14:00');
    const both = 'Early Mon-Fri 06:00-14:00\nLate Fri 13:00-21:00';
    const refusal = await manager.refused(catalogue.saveCalendar, { body: { ...calendar, version: 2, shifts: both } });
    expect(refusal).toMatchObject({ code: 'badShift', details: { field: 'shifts' } });
  });

  it('leave stock that was reserved before where it is', async () => {
    const { id } = await order('2');
    await decide({ reserve: 'nothing' });
    expect((await manager.call(stores.availability, { query: { item: company.id('item', 'SMOKER'), warehouse: 1 } })).free).toBe('8');
    expect((await manager.call(selling.getOrder, { params: { id } })).lines[0]?.reserved).toBe('2');
  });
});
