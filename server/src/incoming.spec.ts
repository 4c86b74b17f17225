/** Orders from outside: read from UBL and CSV, matched, mended in the tray, taken once. */
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { api, type IncomingView } from '@terrace/contract';
import { readCsvOrders } from './incoming/read-csv';
import { readUblOrder } from './incoming/read-ubl';
import { openCompany, type Client, type Company } from './testing/company';

const { catalogue, incoming, selling, stores } = api;
let company: Company;
let manager: Client;

beforeEach(async () => {
  company = await openCompany();
  manager = await company.as('manager');
});
afterEach(async () => {
  company.sound();
  await company.close();
});

interface Line {
  readonly theirs?: string;
  readonly ours?: string;
  readonly quantity?: string;
  readonly unit?: string;
  readonly price?: string;
  /** How many the price is for. */
  readonly per?: string;
}
const escaped = (text: string): string => text.replace(/[&<>]/g, (sign) => `&#${sign.charCodeAt(0)};`);
function ubl(lines: readonly Line[], { number = 'PO-77', buyer = 'Hollin Lane Farm Shop', currency = 'EUR', head = '' } = {}): string {
  const body = lines
    .map(
      ({ theirs = '', ours = '', quantity = '2', unit = 'C62', price = '', per = '' }, index) => `<cac:OrderLine><cac:LineItem>
        <cbc:ID>${index + 1}</cbc:ID><cbc:Quantity unitCode="${unit}">${quantity}</cbc:Quantity>
        ${price === '' ? '' : `<cac:Price><cbc:PriceAmount currencyID="EUR">${price}</cbc:PriceAmount>${per === '' ? '' : `<cbc:BaseQuantity>${per}</cbc:BaseQuantity>`}</cac:Price>`}
        <cac:Item><cbc:Name>A thing</cbc:Name>
        ${theirs === '' ? '' : `<cac:BuyersItemIdentification><cbc:ID>${escaped(theirs)}</cbc:ID></cac:BuyersItemIdentification>`}
        ${ours === '' ? '' : `<cac:SellersItemIdentification><cbc:ID>${escaped(ours)}</cbc:ID></cac:SellersItemIdentification>`}
        </cac:Item></cac:LineItem></cac:OrderLine>`,
    )
    .join('');
  return `<?xml version="1.0" encoding="UTF-8"?>${head}
    <o:Order xmlns:o="urn:oasis:names:specification:ubl:schema:xsd:Order-2"
      xmlns:cac="urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2"
      xmlns:cbc="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2">
      <cbc:ID>${escaped(number)}</cbc:ID><cbc:IssueDate>2027-02-27</cbc:IssueDate><cbc:DocumentCurrencyCode>${currency}</cbc:DocumentCurrencyCode>
      <cac:BuyerCustomerParty><cac:Party><cac:PartyName><cbc:Name>${escaped(buyer)}</cbc:Name></cac:PartyName></cac:Party></cac:BuyerCustomerParty>
      <cac:Delivery><cac:DeliveryLocation><cac:Address><cbc:StreetName>Yard 2</cbc:StreetName><cbc:CityName>Fennbridge</cbc:CityName></cac:Address></cac:DeliveryLocation>
      <cac:RequestedDeliveryPeriod><cbc:EndDate>2027-03-20</cbc:EndDate></cac:RequestedDeliveryPeriod></cac:Delivery>${body}</o:Order>`;
}
const send = (text: string, name = 'order.xml'): Promise<IncomingView[]> => manager.call(incoming.receiveOrders, { body: { name, text } });
const code = async (text: string): Promise<string> => (await manager.refused(incoming.receiveOrders, { body: { name: 'x', text } })).code;
const mend = (view: IncomingView, body: object): Promise<IncomingView> =>
  manager.call(incoming.mendIncoming, { params: { id: view.id }, body: { version: view.version, ...body } });

describe('where it goes from', () => {
  it('is the warehouse where the most of it is free as a whole', async () => {
    const free = async (warehouse: number): Promise<number> =>
      Number((await manager.call(stores.availability, { query: { item: company.id('item', 'SMOKER'), warehouse } })).free);
    expect([await free(1), await free(2)]).toEqual([10, 0]);
    const order = async (lines: readonly Line[], number: string) => {
      const [view] = await send(ubl(lines, { number }));
      return manager.call(selling.getOrder, { params: { id: view?.orderId ?? 0 } });
    };
    expect((await order([{ ours: 'SMOKER', quantity: '2' }], 'PO-1')).warehouse).toBe('WORKS');
    await manager.call(stores.requestTransfer, {
      body: { fromId: 1, toId: 2, shipDate: '2027-03-01', dueDate: '2027-03-01', lines: [{ itemId: company.id('item', 'SMOKER'), quantity: '9' }] },
    });
    const [moved] = (await manager.call(stores.listTransfers, {})).rows;
    const transfer = await manager.call(stores.getTransfer, { params: { id: moved?.id ?? 0 } });
    const shipped = await manager.call(stores.shipTransfer, { params: { id: transfer.id }, body: { version: transfer.version } });
    await manager.call(stores.receiveTransfer, {
      params: { id: transfer.id },
      body: { version: shipped.version, lines: [{ lineId: shipped.lines[0]?.id ?? 0, quantity: '9' }] },
    });
    expect(await free(2)).toBe(9);
    expect((await order([{ ours: 'SMOKER', quantity: '4' }], 'PO-2')).warehouse).toBe('DEPOT');
  });
});

describe('an order as UBL', () => {
  it('of hundreds of lines is taken whole, in their order, by a customer who pays in their own currency', async () => {
    const keeper = await company.as('administrator');
    await keeper.call(catalogue.saveCurrency, { body: { code: 'GBP', name: 'Pound', date: '2027-03-01', rate: '1.25' } });
    await manager.call(catalogue.createCustomer, { body: { code: 'FENWICK', name: 'Fenwick Hives', currency: 'GBP' } });
    const lines = Array.from({ length: 400 }, (_, at) => ({ ours: at % 2 === 0 ? 'SMOKER' : 'BAR', quantity: String(at + 1) }));
    const [euros] = await send(ubl(lines, { number: 'PO-400', buyer: 'Fenwick Hives' }));
    expect(euros?.problems.map(({ problem }) => problem)).toEqual(['currency']);
    const [pounds] = await send(ubl(lines, { number: 'PO-401', buyer: 'Fenwick Hives', currency: 'GBP' }));
    expect(pounds).toMatchObject({ state: 'taken', problems: [] });
    const order = await manager.call(selling.getOrder, { params: { id: pounds?.orderId ?? 0 } });
    expect(order).toMatchObject({ currency: 'GBP', rate: '1.25' });
    expect(order.lines.map(({ quantity }) => quantity)).toEqual(lines.map(({ quantity }) => quantity));
  });

  it('that matches becomes a draft at once, with its number, day and address', async () => {
    const [view] = await send(
      ubl([
        { ours: 'SMOKER', price: '36.00' },
        { ours: 'FRAME', quantity: '4', unit: 'EA' },
      ]),
    );
    expect(view).toMatchObject({ number: 'IN-1001', state: 'taken', order: 'CO-1001', customer: 'Hollin Lane Farm Shop', problems: [] });
    const order = await manager.call(selling.getOrder, { params: { id: view?.orderId ?? 0 } });
    expect(order).toMatchObject({
      state: 'draft',
      reference: 'PO-77',
      requiredDate: '2027-03-20',
      shipTo: 'Yard 2\nFennbridge',
      lines: [
        { code: 'SMOKER', quantity: '2', price: '36.00' },
        { code: 'FRAME', quantity: '4' },
      ],
    });
  });

  it('waits where something does not match, says what, is mended, and remembers what they call an item', async () => {
    const [view] = await send(
      ubl(
        [
          { theirs: 'B-1', price: '30' },
          { ours: 'SMOKER', unit: 'XBX' },
          { ours: 'SMOKER', quantity: '1.5' },
        ],
        { buyer: 'The shop at the lane' },
      ),
    );
    if (!view) throw new Error('nothing came');
    expect(view.state).toBe('waiting');
    expect(view.problems.map(({ problem }) => problem)).toEqual(['noCustomer']);
    expect(view.lines.map(({ problems }) => problems.map(({ problem }) => problem))).toEqual([['noItem'], ['unit'], ['quantity']]);
    expect((await manager.refused(incoming.takeIncoming, { params: { id: view.id }, body: { version: view.version } })).code).toBe('notMended');
    const whose = await mend(view, { customerId: company.id('customer', 'HOLLIN'), lines: [{ id: '1', itemId: company.id('item', 'SMOKER') }] });
    expect(whose.lines[0]?.problems).toMatchObject([
      { problem: 'price', words: 'They say 30.00 for one, and our price is 36.00: say which of them holds.' },
    ]);
    const mended = await mend(whose, {
      lines: [
        { id: '1', price: 'ours' },
        { id: '2', quantity: '12' },
        { id: '3', quantity: '1' },
      ],
    });
    expect([...mended.problems, ...mended.lines.flatMap(({ problems }) => problems)]).toEqual([]);
    const taken = await manager.call(incoming.takeIncoming, { params: { id: view.id }, body: { version: mended.version } });
    expect(taken).toMatchObject({ state: 'taken', order: 'CO-1001' });
    expect((await manager.refused(incoming.takeIncoming, { params: { id: view.id }, body: { version: taken.version } })).code).toBe('wrongState');
    expect(await manager.call(catalogue.customerItems, { params: { id: 1 } })).toMatchObject([{ code: 'SMOKER', theirCode: 'B-1' }]);
    const [next] = await send(ubl([{ theirs: 'b-1' }], { number: 'PO-78' }));
    expect(next).toMatchObject({ state: 'taken', lines: [{ code: 'SMOKER', quantity: '2' }] });
  });

  it('is not taken twice: not the same file, and the same number only where somebody says so', async () => {
    await send(ubl([{ ours: 'SMOKER' }]));
    expect(await code(ubl([{ ours: 'SMOKER' }]))).toBe('cameBefore');
    const [again] = await send(ubl([{ ours: 'SMOKER', quantity: '3' }]));
    if (!again) throw new Error('nothing came');
    expect(again).toMatchObject({ state: 'waiting', problems: [{ problem: 'cameBefore' }] });
    const dropped = await manager.call(incoming.dropIncoming, { params: { id: again.id }, body: { version: again.version, why: 'a copy' } });
    expect(dropped).toMatchObject({ state: 'dropped', why: 'a copy', orderId: null });
    const [other] = await send(ubl([{ ours: 'SMOKER', quantity: '5' }]));
    if (!other) throw new Error('nothing came');
    const meant = await mend(other, { again: true });
    expect((await manager.call(incoming.takeIncoming, { params: { id: other.id }, body: { version: meant.version } })).state).toBe('taken');
    expect((await manager.call(selling.listOrders, {})).total).toBe(2);
  });

  it('takes a price that is for several, and waits where one can not be read; ours is never taken without a word', async () => {
    const [view] = await send(ubl([{ ours: 'SMOKER', price: '360', per: '10' }]));
    expect(view).toMatchObject({ state: 'taken', lines: [{ price: '36.00' }] });
    const [odd] = await send(
      ubl(
        [
          { ours: 'SMOKER', price: '12,50' },
          { ours: 'SMOKER', price: '36', per: '0' },
          { ours: 'SMOKER', price: '-1' },
        ],
        { number: 'PO-90' },
      ),
    );
    expect(odd?.lines.map(({ problems, price }) => [problems.map(({ problem }) => problem), price])).toEqual(Array(3).fill([['price'], '']));
    expect(odd?.lines[0]?.problems[0]?.words).toBe('They say “12,50”, which is no price, and ours is 36.00: say that ours holds, or ask them.');
    if (!odd) throw new Error('nothing came');
    const mended = await mend(odd, { lines: ['1', '2', '3'].map((id) => ({ id, price: 'ours' })) });
    expect(mended.lines.map(({ problems, price }) => [problems, price])).toEqual(Array(3).fill([[], '36.00']));
  });

  it('is the same of a customer, who is named once by name and once by code', async () => {
    await send(ubl([{ ours: 'SMOKER' }]));
    const [again] = await send(ubl([{ ours: 'SMOKER', quantity: '3' }], { buyer: 'HOLLIN' }));
    expect(again).toMatchObject({ state: 'waiting', problems: [{ problem: 'cameBefore' }] });
    const [theirs] = await send(ubl([{ ours: 'SMOKER', quantity: '3' }], { buyer: 'Fenwick Hives' }));
    expect(theirs?.problems.map(({ problem }) => problem)).not.toContain('cameBefore');
  });

  it('in another currency waits; what is no order is refused, and asks for nothing from outside', async () => {
    const [view] = await send(ubl([{ ours: 'SMOKER' }], { currency: 'GBP' }));
    expect(view).toMatchObject({ state: 'waiting', problems: [{ problem: 'currency' }] });
    expect(await code('<a><b></a>')).toBe('notXml');
    expect(await code('<Order xmlns="urn:other"/>')).toBe('notAnOrder');
    expect(await code(ubl([]))).toBe('notAnOrder');
    expect(await code(ubl([{ ours: 'SMOKER' }], { head: '<!DOCTYPE o [<!ENTITY x SYSTEM "file:///etc/passwd">]>' }))).toBe('notXml');
    expect(await code(`${'<a>'.repeat(60)}${'</a>'.repeat(60)}`)).toBe('notXml');
    const sales = await company.as('storekeeper');
    expect((await sales.refused(incoming.receiveOrders, { body: { name: 'x', text: 'y' } })).code).toBe('notAllowed');
  });

  it('is read as it was written, whatever stands in its texts', () => {
    const text = fc.string({ minLength: 1, maxLength: 30 }).map((each) => each.replaceAll(/[^\x20-\x7eäöüéß€]/g, 'x').trim() || 'x');
    fc.assert(
      fc.property(text, text, fc.integer({ min: 1, max: 9999 }), (theirs, number, quantity) => {
        const order = readUblOrder(ubl([{ theirs, quantity: String(quantity) }], { number }));
        expect(order.lines[0]).toMatchObject({ theirCode: theirs, quantity: String(quantity), unit: 'C62' });
        expect([order.number, order.requiredDate, order.buyer.name]).toEqual([number, '2027-03-20', 'Hollin Lane Farm Shop']);
      }),
    );
  });
});

describe('orders as CSV', () => {
  it('are read by their headings, rows of one order together', async () => {
    const file =
      'Order;Customer;Wanted;Item;Quantity;Price\nA-1;HOLLIN;2027-03-12;SMOKER;2;36\nA-1;HOLLIN;2027-03-12;FRAME;3;\nA-2;hollin;;NOTHING;1;\n';
    const views = await send(file, 'orders.csv');
    expect(views.map(({ reference, state, lines }) => [reference, state, lines.length])).toEqual([
      ['A-1', 'taken', 2],
      ['A-2', 'waiting', 1],
    ]);
    expect((await manager.call(incoming.listIncoming, {})).rows).toMatchObject([
      { state: 'waiting', order: null },
      { state: 'taken', order: 'CO-1001' },
    ]);
  });

  it.each([
    ['no columns that are needed', 'a,b\n1,2\n'],
    ['nothing but headings', 'order,customer,item,quantity\n'],
    ['a row without an order', 'order,customer,item,quantity\n,HOLLIN,SMOKER,1\n'],
  ])('%s are refused whole', (_, text) => {
    expect(() => readCsvOrders(text)).toThrow(expect.objectContaining({ code: 'notAnOrder' }));
  });
});
