/** The tray: files are read into it, what matches becomes an order, what does not waits to be mended. */
import { createHash } from 'node:crypto';
import { eq, sql } from 'drizzle-orm';
import type { api } from '@terrace/contract';
import { orderInput, type AnswerOf, type BodyOf, type IncomingView, type ListQuery } from '@terrace/contract';
import { QUANTITY_SCALE, Refusal, parseQuantity, placeFor, type IncomingOrder } from '@terrace/core';
import { customer, customerOf, itemFacts, keepCustomerItem, warehouseOf, warehouses } from '../catalogue';
import { asNumber, asText, list, listPage, refersTo } from '../platform/list';
import { query } from '../platform/query';
import { addRow, changeRow, fetching } from '../platform/rows';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { createOrder, customerOrder, orderOf } from '../selling';
import { stockOf } from '../stores';
import { match, type Matched } from './match';
import { readCsvOrders } from './read-csv';
import { readUblOrder } from './read-ubl';
import { incomingOrder, type Mended } from './schema';

const tray = list(() => ({
  columns: {
    id: asNumber(incomingOrder.id),
    number: asText(incomingOrder.number),
    at: asText(incomingOrder.at),
    fileName: asText(incomingOrder.fileName),
    reference: asText(incomingOrder.reference),
    buyer: asText(incomingOrder.buyer),
    customer: asText(customer.name),
    state: asText(incomingOrder.state),
    order: asText(customerOrder.number),
    orderId: asNumber(sql`coalesce(${incomingOrder.orderId}, 0)`),
  },
  from: incomingOrder,
  joins: [
    { ...refersTo(customer, eq(customer.id, incomingOrder.customerId)), left: true },
    { ...refersTo(customerOrder, eq(customerOrder.id, incomingOrder.orderId)), left: true },
  ],
  find: [incomingOrder.number, incomingOrder.reference, incomingOrder.buyer, incomingOrder.fileName],
  order: [sql`${incomingOrder.id} desc`],
  tie: [incomingOrder.id],
}));

export function listIncoming(work: Work, asked: ListQuery): AnswerOf<typeof api.incoming.listIncoming> {
  return listPage(work, tray, asked);
}

const incomingOf = fetching(incomingOrder, 'order from outside');

export function incomingView(work: Work, id: number): IncomingView {
  const kept = incomingOf(work, id);
  const matched = match(work, kept);
  return {
    id,
    number: kept.number,
    at: kept.at,
    fileName: kept.fileName,
    source: kept.source,
    state: kept.state,
    version: kept.version,
    reference: kept.reference,
    buyer: kept.buyer,
    shipTo: kept.said.shipTo,
    note: kept.said.note,
    currency: kept.said.currency,
    requiredDate: matched.requiredDate,
    customerId: matched.customerId,
    customer: matched.customerId === null ? '' : customerOf(work, matched.customerId).name,
    orderId: kept.orderId,
    order: kept.orderId === null ? '' : orderOf(work, kept.orderId).number,
    why: kept.why,
    problems: kept.state === 'waiting' ? [...matched.problems] : [],
    lines: matched.lines.map(({ said: { id: lineId, ...said }, itemId, quantity, price, ourPrice, problems }) => {
      const facts = itemId === null ? null : itemFacts(work, itemId);
      return {
        id: lineId,
        said,
        itemId,
        code: facts?.code ?? '',
        itemDescription: facts?.description ?? '',
        baseUnit: facts?.unit ?? '',
        quantity,
        price,
        ourPrice,
        problems: kept.state === 'waiting' ? [...problems] : [],
      };
    }),
  };
}

const sameFile = query(
  ($: { checksum: string }) => (db) =>
    db.select({ number: incomingOrder.number }).from(incomingOrder).where(eq(incomingOrder.checksum, $.checksum)).limit(1),
);

/** Reads a file. What matches becomes a draft at once; refuses `cameBefore` for the same file once more. */
export function receiveOrders(work: Work, { name, text }: BodyOf<typeof api.incoming.receiveOrders>): IncomingView[] {
  const checksum = createHash('sha256').update(text).digest('hex');
  const earlier = sameFile.one(work, { checksum });
  if (earlier) throw new Refusal('cameBefore', `This very file came before, as ${earlier.number}: nothing was taken twice.`, { field: 'text' });
  const isXml = text.trimStart().startsWith('<');
  const orders = isXml ? [readUblOrder(text)] : readCsvOrders(text);
  const ids = orders.map((said) => keep(work, said, { fileName: name, checksum, source: isXml ? 'ubl' : 'csv' }));
  for (const id of ids) {
    const kept = incomingOf(work, id);
    const matched = match(work, kept);
    if (matched.problems.length === 0 && matched.lines.every(({ problems }) => problems.length === 0)) makeOrder(work, kept, matched);
  }
  return ids.map((id) => incomingView(work, id));
}

function keep(work: Work, said: IncomingOrder, of: { readonly fileName: string; readonly checksum: string; readonly source: 'ubl' | 'csv' }): number {
  const number = work.nextNumber('IN');
  const id = addRow(work, incomingOrder, {
    number,
    at: work.now,
    date: work.today,
    ...of,
    reference: said.number,
    buyer: said.buyer.name || said.buyer.code || said.buyer.email,
    said,
    mended: { lines: {} },
    state: 'waiting',
  });
  work.record('incomingOrder', id, `read ${said.number} from ${of.fileName}`);
  return id;
}

type Kept = ReturnType<typeof incomingOf>;

/** Where an order goes from: the warehouse where the most of its lines are free as a whole. */
function warehouseFor(work: Work, lines: Matched['lines']): number {
  const items = lines.flatMap(({ itemId, quantity }) => (itemId === null ? [] : [{ itemId, facts: itemFacts(work, itemId), quantity }]));
  const wanted = items.map(({ facts, quantity }) => (facts.kind === 'stocked' ? parseQuantity(quantity, QUANTITY_SCALE) : 0));
  const usable = warehouses(work).filter(({ id }) => warehouseOf(work, id).active);
  const places = usable.map(({ id }) => ({ id, free: items.map(({ itemId }) => stockOf(work, itemId, id).free) }));
  return placeFor(places, wanted);
}

/** The order that a matched one becomes, as a draft. */
function makeOrder(work: Work, kept: Kept, matched: Matched): void {
  if (matched.customerId === null) throw new RangeError('nothing to make an order of');
  const order = createOrder(
    work,
    orderInput.parse({
      customerId: matched.customerId,
      reference: kept.reference.slice(0, 120),
      requiredDate: matched.requiredDate,
      warehouseId: warehouseFor(work, matched.lines),
      note: kept.said.note.slice(0, 2000),
      shipTo: kept.said.shipTo.slice(0, 2000),
      lines: matched.lines.map(({ said, itemId, quantity, price }) => ({
        itemId,
        quantity,
        ...(price === '' ? {} : { price }),
        note: said.note.slice(0, 2000),
        ...(/^\d{4}-\d{2}-\d{2}$/.test(said.requiredDate) && said.requiredDate >= work.today ? { requiredDate: said.requiredDate } : {}),
      })),
    }),
  );
  changeRow(work, incomingOrder, kept.id, { state: 'taken', orderId: order.id, customerId: matched.customerId });
  work.link('incomingOrder', kept.id, 'customerOrder', order.id);
  work.record('incomingOrder', kept.id, `became ${order.number}`);
}

/** One that waits. Refuses `staleVersion`, `wrongState`. */
function waiting(work: Work, id: number, version: number): Kept {
  const kept = incomingOf(work, id);
  assertVersion(work, 'incomingOrder', kept, version, kept.number);
  if (kept.state !== 'waiting') throw new Refusal('wrongState', `${kept.number} is ${kept.state} already.`);
  return kept;
}

/** Says what the file does not: who, which item, how many, at whose price. What a customer calls an item is kept. */
export function mendIncoming(work: Work, id: number, input: BodyOf<typeof api.incoming.mendIncoming>): IncomingView {
  const kept = waiting(work, id, input.version);
  if (input.customerId !== undefined && input.customerId !== null) customerOf(work, input.customerId);
  const lines = { ...kept.mended.lines };
  for (const { id: lineId, ...change } of input.lines) {
    if (!kept.said.lines.some((line) => line.id === lineId))
      throw new Refusal('unknownLine', `${kept.number} has no line ${lineId}.`, { field: 'lines' });
    if (change.itemId !== undefined && change.itemId !== null) itemFacts(work, change.itemId);
    lines[lineId] = { ...lines[lineId], ...given(change) };
  }
  const mended: Mended = {
    ...kept.mended,
    ...given({ customerId: input.customerId, requiredDate: input.requiredDate, again: input.again }),
    lines,
  };
  changeRow(work, incomingOrder, id, { mended });
  work.record('incomingOrder', id, `mended ${kept.number}`);
  if (input.remember) remember(work, { ...kept, mended });
  return incomingView(work, id);
}

const given = <T extends object>(change: T): Partial<T> =>
  Object.fromEntries(Object.entries(change).filter(([, value]) => value !== undefined)) as Partial<T>;

function remember(work: Work, kept: Kept): void {
  const { customerId, lines } = match(work, kept);
  if (customerId === null) return;
  for (const { said, itemId } of lines) {
    const theirCode = said.theirCode === '' ? said.ourCode : said.theirCode;
    if (kept.mended.lines[said.id]?.itemId === undefined || itemId === null || theirCode === '' || itemFacts(work, itemId).code === theirCode)
      continue;
    keepCustomerItem(work, customerId, { itemId, theirCode, theirDescription: said.description.slice(0, 120) });
  }
}

/** Makes it an order. Refuses `notMended` with what is still in the way. */
export function takeIncoming(work: Work, id: number, version: number): IncomingView {
  const kept = waiting(work, id, version);
  const matched = match(work, kept);
  const [first] = [...matched.problems, ...matched.lines.flatMap(({ problems }) => problems)];
  if (first) throw new Refusal('notMended', first.words);
  makeOrder(work, kept, matched);
  return incomingView(work, id);
}

/** Lays it aside for good. */
export function dropIncoming(work: Work, id: number, { version, why }: BodyOf<typeof api.incoming.dropIncoming>): IncomingView {
  const kept = waiting(work, id, version);
  changeRow(work, incomingOrder, id, { state: 'dropped', why });
  work.record('incomingOrder', id, `laid ${kept.number} aside: ${why}`);
  return incomingView(work, id);
}
