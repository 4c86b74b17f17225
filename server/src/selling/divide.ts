/** Dividing an order: each part but the first becomes an order of its own, and all together are what the whole was. */
import { and, eq, ne } from 'drizzle-orm';
import type { AnswerOf, BodyOf, DividedPart, DivisionPreview, api } from '@terrace/contract';
import {
  Refusal,
  asAmount,
  asQuantity,
  divideLine,
  divideReasons,
  divideBooks,
  divideTax,
  leastQuantity,
  outstanding,
  parsePositiveQuantity,
  partsBy,
  standing,
  totalOf,
  writeAmount,
  writeQuantity,
  type DivideReason,
  type LineShare,
  type LineToDivide,
  type Quantity,
} from '@terrace/core';
import { customerOf, itemFacts, usableWarehouse, warehouse, warehouseOf } from '../catalogue';
import { atField } from '../platform/fields';
import { houseRules } from '../platform/house-rules';
import { query } from '../platform/query';
import { addRow, changeRow, setRow } from '../platform/rows';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { livingStock, lowerReservation, reserveFree, reservedFor, stockOf } from '../stores';
import { otherRooms } from './handed-in';
import { dropLine } from './on-shipment';
import { lineRows, linesOf, orderOf, orderView, worthOf, type LineRecord, type OrderRecord } from './order-view';
import { refreshOrder } from './orders';
import { reserveLines } from './reserve-lines';
import { customerOrder, customerOrderLine } from './schema';

const SCALE = 100_000;
const NONE = asQuantity(0);

/** The smallest piece of a unit. */
const stepOf = (decimals: number): Quantity => asQuantity(SCALE / 10 ** decimals);

/** An order of which something is still to come. Refuses `wrongState`. */
export function dividable(work: Work, id: number): OrderRecord {
  const order = orderOf(work, id);
  if (order.state !== 'draft' && order.state !== 'confirmed' && order.state !== 'partShipped')
    throw new Refusal('wrongState', `${order.number} is ${order.state}: nothing of it is left to divide.`);
  return order;
}

const otherWarehouses = query(
  ($: { except: number }) => (db) =>
    db
      .select({ id: warehouse.id })
      .from(warehouse)
      .where(and(eq(warehouse.active, true), ne(warehouse.id, $.except))),
);

/** What dividing has to know of the lines of an order. */
function linesToDivide(work: Work, order: OrderRecord): LineToDivide[] {
  return lineRows(work, order.id).map((line) => {
    const open = openOf(work, line);
    const elsewhere =
      line.kind === 'stocked' && line.reserved < open
        ? otherWarehouses
            .all(work, { except: order.warehouseId })
            .map(({ id }) => ({ warehouseId: id, free: asQuantity(Math.max(0, stockOf(work, line.itemId, id).free)) }))
            .filter(({ free }) => free > 0)
            .sort((a, b) => b.free - a.free)
        : [];
    const whole = order.promiseDate;
    const perishes =
      line.reserved > 0 && whole !== null && line.kind === 'stocked'
        ? livingStock(work, line.itemId, order.warehouseId).some(({ usableUntil }) => usableUntil !== null && usableUntil < whole)
        : false;
    return {
      id: line.id,
      kind: line.kind,
      open,
      reserved: line.reserved,
      elsewhere,
      shipTo: line.shipTo,
      carrier: line.carrier,
      direct: line.direct,
      perishes,
    };
  });
}

/** What of a line could go with another part: neither shipped nor on a shipment. */
function openOf(work: Work, line: Pick<LineRecord, 'id' | 'quantity' | 'shipped' | 'cancelled'>): Quantity {
  return otherRooms.get().shipmentHolding(work, line.id) === undefined ? outstanding(line) : NONE;
}

interface Proposed {
  readonly parts: readonly (DividedPart & { readonly why: readonly DivideReason[] })[];
  readonly could: readonly DivideReason[];
}

/** What would go together by the reasons that somebody chose, and by which reasons anything would go apart. */
export function proposeDivision(work: Work, id: number, reasons: readonly DivideReason[]): Proposed {
  const lines = linesToDivide(work, dividable(work, id));
  const could = divideReasons.filter((reason) => partsBy(lines, [reason]).some(({ why }) => why.includes(reason)));
  const parts = partsBy(lines, reasons).map((part) => ({
    ...part,
    lines: part.lines.map(({ lineId, quantity }) => ({ lineId, quantity: writeQuantity(quantity) })),
  }));
  return { parts, could };
}

interface Read {
  readonly line: LineRecord;
  /** What was reserved of it before. */
  readonly reserved: Quantity;
  /** What each part has of what is open of it. */
  readonly quantities: readonly Quantity[];
  readonly step: Quantity;
}

/** Reads which part has how much of each line. Refuses `unknownLine`, `notAllThere`, `onShipment` and what the unit can’t hold. */
function readParts(work: Work, order: OrderRecord, parts: readonly DividedPart[]): Read[] {
  const lines = linesOf(work, order.id);
  for (const [index, part] of parts.entries()) {
    if (part.lines.length === 0)
      throw new Refusal('emptyPart', `Part ${index + 1} has nothing in it: give it a line, or leave it out.`, { field: `parts.${index}.lines` });
    if (part.warehouseId !== null && part.warehouseId !== order.warehouseId)
      atField(`parts.${index}.warehouseId`, () => usableWarehouse(work, part.warehouseId ?? 0));
    const unknown = part.lines.find(({ lineId }) => !lines.some(({ id }) => id === lineId));
    if (unknown)
      throw new Refusal('unknownLine', `Part ${index + 1} has a line that is not one of ${order.number}.`, { field: `parts.${index}.lines` });
  }
  return lines.map((line) => {
    const { code, decimals } = itemFacts(work, line.itemId);
    const quantities = parts.map((part, index) =>
      asQuantity(
        part.lines
          .filter(({ lineId }) => lineId === line.id)
          .reduce(
            (sum, { quantity }) => sum + atField(`parts.${index}.lines`, () => parsePositiveQuantity(quantity, decimals, `the quantity of ${code}`)),
            0,
          ),
      ),
    );
    const [all, open] = [quantities.reduce((sum, each) => sum + each, 0), openOf(work, line)];
    if (all !== open)
      throw new Refusal(
        'notAllThere',
        `Of line ${line.position} (${code}) ${writeQuantity(open)} can be divided, and the parts have ${writeQuantity(all)}: none may be lost or twice.`,
        { field: 'parts' },
      );
    return { line, quantities, step: stepOf(decimals), reserved: reservedFor(work, 'customerOrder', line.id) };
  });
}

/** A number for the next part of a family: that of the first with a dash. */
function numberOfPart(work: Work, first: string): string {
  for (let part = 2; ; part += 1) {
    const number = `${first}-${part}`;
    if (!numbered.one(work, { number })) return number;
  }
}
const numbered = query(
  ($: { number: string }) => (db) => db.select({ id: customerOrder.id }).from(customerOrder).where(eq(customerOrder.number, $.number)),
);

/**
 * Divides an order into parts: the first stays, with all that has shipped; each other becomes an order of the same state with a
 * number of its family, and what is reserved goes along. All together have the quantities, free pieces, amounts and the tax of the
 * whole, to the cent. Refuses `wrongState`, `nothingToDivide`, `staleVersion` and parts that are not the whole.
 */
export function divideOrder(
  work: Work,
  id: number,
  { version, parts }: BodyOf<typeof api.selling.divideOrder>,
): AnswerOf<typeof api.selling.divideOrder> {
  const order = dividable(work, id);
  assertVersion(work, 'customerOrder', order, version, order.number);
  if (parts.length < 2)
    throw new Refusal('nothingToDivide', `All of ${order.number} would stay together: there is nothing to divide.`, { field: 'parts' });
  const read = readParts(work, order, parts);
  const shares = read.map(({ line, quantities, step }) => {
    const [stays = NONE, ...go] = quantities;
    // What has shipped, or is on a shipment, stays with the first.
    const keeps = asQuantity(standing(line) - go.reduce((sum, each) => sum + each, 0));
    if (keeps < stays) throw new RangeError(`line ${line.position} keeps less than its own part`);
    return divideLine({ ...line, step }, [keeps, ...go]);
  });
  const whole = totalOf(
    read.map(({ line }) => worthOf(line)),
    order.taxRate,
    order.taxCorrection,
  );
  const nets = parts.map((_, part) => asAmount(shares.reduce((sum, each) => sum + (each[part]?.amount ?? 0), 0)));
  const taxes = divideTax(whole, nets, order.taxRate);
  const totals = nets.map((net, part) => ({ net, total: asAmount(net + (taxes[part]?.tax ?? 0)) }));
  const books = divideBooks(order, totals);
  const sums = (part: number): Partial<OrderRecord> => ({ ...totals[part], ...books[part] });
  const familyId = order.familyId ?? order.id;
  const first = orderOf(work, familyId);
  const numbers: string[] = [];
  const made = parts.slice(1).map((part, index) => {
    const at = index + 1;
    const number = numberOfPart(work, first.number);
    numbers.push(number);
    const { id: _, version: _version, ...head } = order;
    const orderId = addRow(work, customerOrder, {
      ...head,
      number,
      familyId,
      state: order.state === 'draft' ? 'draft' : 'confirmed',
      warehouseId: part.warehouseId ?? order.warehouseId,
      shipTo: part.shipTo === '' ? order.shipTo : part.shipTo,
      ...(part.carrier === '' ? {} : { carrier: part.carrier, service: '' }),
      ...sums(at),
      taxCorrection: taxes[at]?.correction ?? asAmount(0),
    });
    let position = 0;
    read.forEach(({ line }, lineAt) => {
      const share = shares[lineAt]?.[at];
      if (!share || share.quantity === 0) return;
      position += 1;
      const { id: originId, ...kept } = line;
      addRow(work, customerOrderLine, {
        ...kept,
        orderId,
        position,
        originId: line.originId ?? originId,
        quantity: share.quantity,
        free: share.free,
        correction: share.correction,
        shipped: NONE,
        invoiced: NONE,
        cancelled: NONE,
        freeInvoiced: NONE,
        // What made it go apart is what the part is now.
        ...(part.shipTo === '' ? {} : { shipTo: '' }),
        ...(part.carrier === '' ? {} : { carrier: '' }),
      });
    });
    return orderId;
  });
  read.forEach(({ line }, lineAt) => {
    const share = shares[lineAt]?.[0];
    if (share) keepFirst(work, line, share);
    work.touch('stock', line.itemId, order.number);
  });
  const [stays] = parts;
  changeRow(work, customerOrder, id, {
    familyId,
    ...sums(0),
    taxCorrection: taxes[0]?.correction ?? asAmount(0),
    ...(stays && stays.shipTo !== '' ? { shipTo: stays.shipTo } : {}),
    ...(stays && stays.carrier !== '' ? { carrier: stays.carrier, service: '' } : {}),
  });
  if (order.state !== 'draft') {
    const had = new Map(read.map(({ line, reserved }) => [line.originId ?? line.id, reserved - reservedFor(work, 'customerOrder', line.id)]));
    for (const each of made) takeAlong(work, orderOf(work, each), order.warehouseId, had);
    for (const each of [id, ...made]) reserveLines(work, orderOf(work, each), lineRows(work, each));
    refreshOrder(work, id);
  }
  for (const [index, orderId] of made.entries()) {
    work.link('customerOrder', id, 'customerOrder', orderId);
    work.record('customerOrder', orderId, `divided ${numbers[index] ?? ''} from ${order.number}`);
  }
  work.record('customerOrder', id, `divided ${order.number}: ${numbers.join(', ')} go on by themselves`);
  return { orders: [id, ...made].map((each) => ({ id: each, number: orderOf(work, each).number })) };
}

/** What stays of a line with the first part; of a line of which nothing stays, nothing. */
function keepFirst(work: Work, line: LineRecord, { quantity, free, correction }: LineShare): void {
  const keeps = Math.max(0, quantity - line.shipped);
  const has = reservedFor(work, 'customerOrder', line.id);
  if (has > keeps) lowerReservation(work, 'customerOrder', line.id, asQuantity(has - keeps));
  if (quantity > 0 || line.cancelled > 0) {
    setRow(work, customerOrderLine, line.id, { quantity: asQuantity(quantity + line.cancelled), free, correction });
    return;
  }
  dropLine(work, line.id, line.position);
}

/** Reserves for a part what the order had let go for it, or what another warehouse has free of what goes from there. */
function takeAlong(work: Work, part: OrderRecord, from: number, had: Map<number, number>): void {
  for (const line of lineRows(work, part.id)) {
    if (line.kind !== 'stocked' || line.direct) continue;
    const left = had.get(line.originId ?? 0) ?? 0;
    const wanted = part.warehouseId === from ? leastQuantity(asQuantity(Math.max(0, left)), line.quantity) : line.quantity;
    if (wanted === 0) continue;
    const holder = { kind: 'customerOrder', id: line.id, documentId: part.id, documentNumber: part.number, date: line.requiredDate } as const;
    const got = reserveFree(work, line.itemId, part.warehouseId, holder, wanted);
    if (part.warehouseId === from) had.set(line.originId ?? 0, left - got);
  }
}

/** How an order would be divided: as said, or by reasons. To be carried out where nothing of it is kept. */
export function divisionView(work: Work, id: number, { reasons, parts: said }: BodyOf<typeof api.selling.previewDivision>): DivisionPreview {
  const before = orderOf(work, id);
  const positions = new Map(linesOf(work, id).map((line) => [line.originId ?? line.id, line]));
  const proposal = proposeDivision(work, id, said ? [] : reasons);
  const parts: Proposed['parts'] = said ? said.map((part) => ({ ...part, why: [] })) : proposal.parts;
  const { number, version, total, currency } = before;
  const head = { id, number, version, currency, total: writeAmount(total), customer: customerOf(work, before.customerId).name };
  const orders = parts.length < 2 ? [{ id }] : divideOrder(work, id, { version: before.version, parts: [...parts] }).orders;
  return {
    order: { ...head, warehouse: warehouseOf(work, before.warehouseId).code },
    could: [...proposal.could],
    parts: orders.map((each, at) => {
      const view = orderView(work, each.id);
      const rows = new Map(lineRows(work, each.id).map((row) => [row.id, row]));
      return {
        warehouseId: view.warehouseId === before.warehouseId ? null : view.warehouseId,
        warehouse: view.warehouse,
        shipTo: parts[at]?.shipTo ?? '',
        carrier: parts[at]?.carrier ?? '',
        why: [...(parts[at]?.why ?? [])],
        lines: view.lines.flatMap((line) => {
          const was = positions.get(rows.get(line.id)?.originId ?? line.id);
          if (!was || line.outstanding === '0') return [];
          const { code, description, unit, decimals, free, reserved, promiseDate, amount } = line;
          return [
            {
              lineId: was.id,
              position: was.position,
              code,
              description,
              unit,
              decimals,
              quantity: line.outstanding,
              free,
              reserved,
              promiseDate,
              amount,
            },
          ];
        }),
        promiseDate: view.promiseDate,
        ready: view.ready,
        net: view.net,
        tax: view.tax,
        total: view.total,
      };
    }),
  };
}

/** Divides an order that is confirmed by the reasons of the house, where any of them holds; one that goes as a whole stays one. Says whether it did. */
export function divideByRule(work: Work, id: number): boolean {
  const order = orderOf(work, id);
  const reasons = houseRules(work.store).divideBy;
  if (reasons.length === 0 || order.complete) return false;
  const { parts } = proposeDivision(work, id, reasons);
  if (parts.length < 2) return false;
  divideOrder(work, id, { version: order.version, parts: [...parts] });
  return true;
}
