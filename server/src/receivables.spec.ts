/** What customers owe: payments over several invoices and ahead, credit notes, ageing, reminders, one invoice for several shipments. */
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api, type InvoiceView, type OrderView, type PaymentView } from '@terrace/contract';
import { paperOf } from './papers';
import { openCompany, somebody, type Client, type Company } from './testing/company';

const { accounts, catalogue, dispatch, platform, selling } = api;
let company: Company;
let manager: Client;

beforeEach(async () => {
  company = await openCompany();
  manager = await company.as('manager');
});
afterEach(async () => {
  company.sound();
  const { checks } = await manager.call(accounts.proof);
  expect(checks.filter((check) => !check.holds)).toEqual([]);
  await company.close();
});

const item = (code: string): number => company.id('item', code);
const order = (quantity: string, more: object = {}): Promise<OrderView> =>
  manager.call(selling.createOrder, {
    body: {
      customerId: 1,
      warehouseId: 1,
      requiredDate: '2027-03-12',
      confirm: true,
      beyondCredit: true,
      lines: [{ itemId: item('SMOKER'), quantity, price: '30', ...more }],
    },
  });
async function ship(orderId: number, quantity?: string): Promise<number> {
  const { lines } = await manager.call(selling.getOrder, { params: { id: orderId } });
  const made = await manager.call(dispatch.createShipment, {
    body: { orderId, ...(quantity === undefined ? {} : { lines: [{ orderLineId: lines[0]?.id ?? 0, quantity }] }) },
  });
  await manager.call(dispatch.ship, { params: { id: made.id }, body: { version: made.version } });
  return made.id;
}
async function invoiced(quantity: string, more: object = {}): Promise<InvoiceView> {
  const { id } = await order(quantity, more);
  await ship(id);
  return manager.call(selling.invoiceOrder, { params: { id }, body: {} });
}
const invoice = (id: number): Promise<InvoiceView> => manager.call(accounts.getInvoice, { params: { id } });
const pay = (amount: string, settle: readonly { invoiceId: number; amount: string; letOff?: string }[], more: object = {}): Promise<PaymentView> =>
  manager.call(accounts.recordPayment, { body: { customerId: 1, amount, method: 'transfer', settle: [...settle], ...more } });
async function termsOf(paymentTerm: string): Promise<void> {
  const customer = await manager.call(catalogue.getCustomer, { params: { id: 1 } });
  await manager.call(catalogue.changeCustomer, { params: { id: 1 }, body: { ...customer, paymentTerm, taxCode: null } });
}
const balance = async (code: string): Promise<string | undefined> =>
  (await manager.call(accounts.proof)).accounts.find((each) => each.code === code)?.balance;

describe('a payment', () => {
  it('closes several invoices, and what none takes is paid ahead until another is there', async () => {
    const [first, second] = [await invoiced('1'), await invoiced('2')];
    expect([first.total, second.total]).toEqual(['36.00', '72.00']);
    const paid = await pay('120', [
      { invoiceId: first.id, amount: '36' },
      { invoiceId: second.id, amount: '70' },
    ]);
    expect(paid).toMatchObject({ number: 'PAY-1001', amount: '120.00', rest: '14.00', settled: [{ number: 'INV-1001' }, { number: 'INV-1002' }] });
    expect(await invoice(first.id)).toMatchObject({ state: 'paid', open: '0.00' });
    expect(await invoice(second.id)).toMatchObject({ state: 'open', open: '2.00' });
    expect(await balance('2200')).toBe('-14.00');
    const rest = await manager.call(accounts.settlePayment, { params: { id: paid.id }, body: { settle: [{ invoiceId: second.id, amount: '2' }] } });
    expect(rest.rest).toBe('12.00');
    expect((await invoice(second.id)).state).toBe('paid');
    const back = await manager.call(accounts.reversePayment, { params: { id: paid.id } });
    expect(back).toMatchObject({ reversed: true, rest: '0.00' });
    expect(await invoice(second.id)).toMatchObject({ state: 'open', open: '72.00' });
    expect((await manager.refused(accounts.reversePayment, { params: { id: paid.id } })).code).toBe('alreadyReversed');
    expect(await balance('2200')).toBe('0.00');
  });

  it('is refused where it closes more than was paid, more than is open, the same twice, or what is another’s', async () => {
    const { id } = await invoiced('1');
    const code = async (amount: string, settle: { invoiceId: number; amount: string; letOff?: string }[], customerId = 1) =>
      (await manager.refused(accounts.recordPayment, { body: { customerId, amount, method: 'card', settle } })).code;
    expect(await code('10', [{ invoiceId: id, amount: '11' }])).toBe('beyondPayment');
    expect(await code('100', [{ invoiceId: id, amount: '36.01' }])).toBe('tooMuch');
    expect(
      await code('36', [
        { invoiceId: id, amount: '1' },
        { invoiceId: id, amount: '2' },
      ]),
    ).toBe('twice');
    expect(await code('0', [])).toBe('notPositive');
    expect(await code('36', [{ invoiceId: id, amount: '36', letOff: '1' }])).toBe('tooLate');
    const { id: other } = await manager.call(catalogue.createCustomer, { body: { code: 'OTHER', name: 'Other' } });
    expect(await code('36', [{ invoiceId: id, amount: '36' }], other)).toBe('otherCustomer');
    expect((await manager.call(accounts.listPayments, {})).total).toBe(0);
  });

  it('takes what is let off for paying early, with its tax, as long as it is early and the whole', async () => {
    const administrator = await company.as('administrator');
    await administrator.call(catalogue.savePaymentTerm, { body: { code: 'SOON', name: 'Soon', days: 30, discountDays: 10, discount: '2' } });
    await termsOf('SOON');
    const early = await invoiced('5');
    expect(early).toMatchObject({ total: '180.00', letOff: '3.60' });
    const part = await manager.refused(accounts.recordPayment, {
      body: { customerId: 1, amount: '100', method: 'transfer', settle: [{ invoiceId: early.id, amount: '100', letOff: '3.60' }] },
    });
    expect(part.code).toBe('partOnly');
    const paid = await manager.call(accounts.payInvoice, {
      params: { id: early.id },
      body: { amount: '176.40', method: 'transfer', early: true },
    });
    expect(paid).toMatchObject({ state: 'paid', open: '0.00', payments: [{ amount: '180.00', letOff: '3.60', kind: 'payment' }] });
    expect([await balance('4040'), await balance('2300')]).toEqual(['3.00', '-29.40']);
  });

  it('ahead of an order closes its invoice by itself, as far as it goes', async () => {
    const { id: orderId } = await order('2');
    const paid = await pay('50', [], { orderId });
    expect(paid).toMatchObject({ rest: '50.00', order: 'CO-1001' });
    await ship(orderId);
    const made = await manager.call(selling.invoiceOrder, { params: { id: orderId }, body: {} });
    expect(made).toMatchObject({ state: 'open', total: '72.00', open: '22.00' });
    expect(await manager.call(accounts.getPayment, { params: { id: paid.id } })).toMatchObject({ rest: '0.00', settled: [{ amount: '50.00' }] });
    await pay('40', [{ invoiceId: made.id, amount: '22' }], { method: 'cash' });
    // It names no drawer, so it is brought to the bank.
    expect([await balance('1000'), await balance('1010'), await balance('2200')]).toEqual(['90.00', '0.00', '-18.00']);
    expect((await manager.call(selling.getOrder, { params: { id: orderId } })).state).toBe('closed');
  });
});

describe('what was paid ahead for an order that is divided', () => {
  it('closes the invoices of all its parts, to the cent, whichever goes first', async () => {
    const whole = await order('3');
    const paid = await pay('100', [], { orderId: whole.id });
    const preview = await manager.call(selling.getOrder, { params: { id: whole.id } });
    const line = (quantity: string) => ({ lines: [{ lineId: preview.lines[0]?.id ?? 0, quantity }] });
    const { orders } = await manager.call(selling.divideOrder, {
      params: { id: whole.id },
      body: { version: preview.version, parts: [line('1'), line('2')] },
    });
    expect(await manager.call(selling.getOrder, { params: { id: orders[0]?.id ?? 0 } })).toMatchObject({ paidAhead: '100.00' });
    const parts = (await manager.call(selling.getOrder, { params: { id: whole.id } })).family.map(({ id }) => id);
    expect(parts).toHaveLength(2);
    const invoices: InvoiceView[] = [];
    for (const id of [...parts].reverse()) {
      await ship(id);
      invoices.push(await manager.call(selling.invoiceOrder, { params: { id }, body: {} }));
    }
    expect(invoices.map(({ total, open }) => [total, open])).toEqual([
      ['72.00', '0.00'],
      ['36.00', '8.00'],
    ]);
    expect((await manager.call(accounts.getPayment, { params: { id: paid.id } })).rest).toBe('0.00');
  });
});

describe('a credit note', () => {
  const credit = async (id: number, lines: { lineId: number; quantity?: string; amount?: string }[]) =>
    manager.call(accounts.creditInvoice, { params: { id }, body: { version: (await invoice(id)).version, reason: 'arrived dented', lines } });

  it('gives pieces back at what they cost, closes the invoice as far as that is open, and leaves the rest to give', async () => {
    const made = await invoiced('3', { discount: '10' });
    expect(made).toMatchObject({ net: '81.00', total: '97.20' });
    await pay('90', [{ invoiceId: made.id, amount: '90' }]);
    const lineId = made.lines[0]?.id ?? 0;
    const note = await credit(made.id, [{ lineId, quantity: '1' }]);
    expect(note).toMatchObject({ number: 'CR-1001', kind: 'credit', creditOf: 'INV-1001', net: '-27.00', total: '-32.40', open: '-25.20' });
    expect(await invoice(made.id)).toMatchObject({ state: 'paid', lines: [{ credited: '1', creditedAmount: '27.00' }] });
    const paper = paperOf(company.terrace.commands.look(somebody('manager')), 'invoice', note.id);
    expect([paper.title, paper.note]).toEqual(['Credit note', 'For INV-1001: arrived dented.']);

    const next = await invoiced('1');
    const closed = await manager.call(accounts.settleCredit, {
      params: { id: note.id },
      body: { version: note.version, settle: [{ invoiceId: next.id, amount: '20' }] },
    });
    expect(closed).toMatchObject({ state: 'open', open: '-5.20' });
    expect((await invoice(next.id)).open).toBe('16.00');
    const over = await manager.refused(accounts.refundCredit, {
      params: { id: note.id },
      body: { version: closed.version, amount: '5.21', method: 'transfer' },
    });
    expect(over).toMatchObject({ code: 'tooMuch' });
    const out = await manager.call(accounts.refundCredit, {
      params: { id: note.id },
      body: { version: closed.version, amount: '5.20', method: 'transfer' },
    });
    expect(out).toMatchObject({ state: 'paid', open: '0.00' });
    expect((await manager.call(accounts.listPayments, {})).rows[0]).toMatchObject({ amount: '-5.20', rest: '0.00' });
    expect((await manager.refused(accounts.reverseInvoice, { params: { id: note.id }, body: { version: out.version } })).code).toBe('wrongState');
  });

  it('in parts comes to the invoice to the cent, and no further', async () => {
    const made = await invoiced('3', { price: '3.333' });
    const lineId = made.lines[0]?.id ?? 0;
    const notes = [
      await credit(made.id, [{ lineId, amount: '0.01' }]),
      await credit(made.id, [{ lineId, quantity: '1' }]),
      await credit(made.id, [{ lineId, quantity: '2' }]),
    ];
    const cents = (of: 'net' | 'tax'): number => notes.reduce((sum, note) => sum + Math.round(Number(note[of]) * 100), 0);
    expect([cents('net'), cents('tax')]).toEqual([-Math.round(Number(made.net) * 100), -Math.round(Number(made.tax) * 100)]);
    expect(await invoice(made.id)).toMatchObject({ state: 'paid', open: '0.00' });
    const more = { version: (await invoice(made.id)).version, reason: 'again' };
    const code = async (line: object) =>
      (await manager.refused(accounts.creditInvoice, { params: { id: made.id }, body: { ...more, lines: [{ lineId, ...line }] } })).code;
    expect([await code({ quantity: '1' }), await code({ amount: '0.01' }), await code({})]).toEqual(['tooMuch', 'tooMuch', 'nothingToCredit']);
    expect((await manager.refused(accounts.reverseInvoice, { params: { id: made.id }, body: { version: more.version } })).code).toBe('wrongState');
    for (const note of [...notes].reverse()) {
      const { version } = await invoice(note.id);
      expect(await manager.call(accounts.reverseInvoice, { params: { id: note.id }, body: { version } })).toMatchObject({ state: 'reversed' });
    }
    const open = await invoice(made.id);
    expect(open).toMatchObject({ state: 'open', open: made.total, lines: [{ credited: '0', creditedAmount: '0.00' }] });
    await manager.call(accounts.reverseInvoice, { params: { id: made.id }, body: { version: open.version } });
  });
});

describe('a customer’s account', () => {
  it('shows what is open and how old it is, every movement, and says so on paper', async () => {
    const [first, second] = [await invoiced('1'), await invoiced('2')];
    await pay('100', [{ invoiceId: first.id, amount: '36' }]);
    const account = await manager.call(accounts.customerAccount, { params: { id: 1 }, query: {} });
    expect(account).toMatchObject({ balance: '8.00', overdue: '0.00', before: '0.00' });
    expect(account.open.map(({ kind, number, open }) => [kind, number, open])).toEqual([
      ['invoice', second.number, '72.00'],
      ['payment', 'PAY-1001', '-64.00'],
    ]);
    expect(account.movements.map(({ amount, balance: after }) => [amount, after])).toEqual([
      ['36.00', '36.00'],
      ['72.00', '108.00'],
      ['-100.00', '8.00'],
    ]);
    const paper = paperOf(company.terrace.commands.look(somebody('manager')), 'customer', 1);
    expect(paper.totals.at(-1)?.[1]).toMatch(/8[.,]00/);
    expect(account).toMatchObject({ bands: { notDue: '72.00', to30: '0.00' }, credit: '-64.00' });
    expect(await manager.call(catalogue.getCustomer, { params: { id: 1 } })).toMatchObject({ owes: '8.00' });
    expect((await manager.call(accounts.debtors, {})).rows).toMatchObject([
      { customer: account.customer, balance: '8.00', notDue: '72.00', credit: '-64.00', overdue: '0.00', reminded: 0 },
    ]);
  });

  it('is reminded of in three steps by mail, each after its days, and not without an address', async () => {
    await manager.call(catalogue.getCustomer, { params: { id: 1 } });
    const made = await invoiced('1');
    const on = async (today: string) => {
      company.turnTo(today);
      manager = await company.as('manager');
      return manager.call(accounts.previewReminders);
    };
    const due = made.dueDate;
    const after = (days: number): string => new Date(Date.parse(due) + days * 86_400_000).toISOString().slice(0, 10);
    expect(await on(after(6))).toEqual([]);
    expect(await on(after(7))).toMatchObject([{ step: 1, total: '36.00', invoices: [{ number: made.number }] }]);
    const customer = await manager.call(catalogue.getCustomer, { params: { id: 1 } });
    await manager.call(catalogue.changeCustomer, { params: { id: 1 }, body: { ...customer, email: '' } });
    const remind = () => manager.call(accounts.remind, { body: { customerIds: [1] } });
    expect((await remind())[0]?.why).toContain('no mail address');
    const { version } = await manager.call(catalogue.getCustomer, { params: { id: 1 } });
    await manager.call(catalogue.changeCustomer, { params: { id: 1 }, body: { ...customer, email: 'desk@hollin.example', version } });
    expect(await remind()).toMatchObject([{ step: 1, why: '' }]);
    expect((await remind())[0]?.why).toContain('Nothing is due');
    expect(await invoice(made.id)).toMatchObject({ reminded: 1, remindedOn: after(7), overdue: true });
    expect(await on(after(21))).toMatchObject([{ step: 2 }]);
    await remind();
    expect(await on(after(35))).toMatchObject([{ step: 3 }]);
    await remind();
    expect(await on(after(200))).toEqual([]);
    const { rows } = await manager.call(platform.outbox, {});
    expect(rows.map(({ subject }) => subject.split(':')[0])).toEqual(['Last reminder', 'Second reminder', 'A friendly reminder']);
    expect((await manager.call(accounts.debtors, {})).rows).toMatchObject([{ older: '36.00', overdue: '36.00', reminded: 3 }]);
  });
});

describe('one invoice', () => {
  const wish = async (invoicing: 'shipment' | 'order' | 'together') => {
    const customer = await manager.call(catalogue.getCustomer, { params: { id: 1 } });
    await manager.call(catalogue.changeCustomer, { params: { id: 1 }, body: { ...customer, invoicing } });
  };
  const waiting = async () => (await manager.call(accounts.toInvoice, {})).rows;

  it('is for several shipments of several orders, for each order, or for each shipment, as the customer wants it', async () => {
    const [one, two] = [await order('2'), await order('3', { price: '10' })];
    const shipments = [await ship(one.id, '1'), await ship(one.id, '1'), await ship(two.id)];
    expect(await waiting()).toMatchObject([
      { order: 'CO-1001', whole: true },
      { order: 'CO-1001', whole: true },
      { order: 'CO-1002', whole: true },
    ]);
    await wish('together');
    const [made, ...more] = await manager.call(accounts.invoiceShipments, { body: { shipmentIds: shipments } });
    expect(more).toEqual([]);
    expect(made).toMatchObject({ total: '108.00', shipments: 3 });
    expect(await waiting()).toEqual([]);
    const shown = await invoice(made?.id ?? 0);
    expect(shown.lines.map((line) => [line.quantity, line.order])).toEqual([
      ['2', ''],
      ['3', 'CO-1002'],
    ]);
    expect((await manager.refused(accounts.invoiceShipments, { body: { shipmentIds: shipments } })).code).toBe('nothingToInvoice');
    await pay('108', [{ invoiceId: shown.id, amount: '108' }]);
    for (const { id } of [one, two]) expect((await manager.call(selling.getOrder, { params: { id } })).state).toBe('closed');
    const payments = await manager.call(accounts.listPayments, {});
    await manager.call(accounts.reversePayment, { params: { id: payments.rows[0]?.id ?? 0 } });
    await manager.call(accounts.reverseInvoice, { params: { id: shown.id }, body: { version: (await invoice(shown.id)).version } });

    await wish('order');
    expect((await manager.call(accounts.invoiceShipments, { body: { shipmentIds: shipments } })).map((each) => each.total)).toEqual([
      '72.00',
      '36.00',
    ]);
  });
});
