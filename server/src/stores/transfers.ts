/** Transfers between warehouses: requested, shipped, received in part or in full, with what was lost on the way. */
import type { api } from '@terrace/contract';
import { type AnswerOf, type BodyOf, type ListQuery, type TransferView } from '@terrace/contract';
import { Refusal, asQuantity, parsePositiveQuantity, parseQuantity, writeQuantity, type Quantity } from '@terrace/core';
import { and, eq, inArray, lt, lte, or, sql, type SQL } from 'drizzle-orm';
import { alias } from 'drizzle-orm/sqlite-core';
import { binOf, itemFacts, usableItem, warehouse, warehouseOf } from '../catalogue';
import { countOf, inner, plus, scalar, total } from '../platform/expressions';
import { asFlag, asNumber, asQuantityText, asText, list, listPage, refersTo } from '../platform/list';
import { command, query } from '../platform/query';
import { atField } from '../platform/fields';
import { addRow, changeRow, dropRows, fetching, fetchingAll, setRow } from '../platform/rows';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { adjustmentEvent, reasonOf } from './adjustments';
import { transfer, transferLine, transferPiece } from './document-schema';
import type { StockEvent } from './events';
import { postMoves, reverseMoves, type MoveRequest } from './post-moves';
import { dropReservation, reserveFree, reservedFor } from './reservations';
import { binsHolding, takeForAll } from './first-expiring';
import { piecesNamed, trackingOf } from './tracking';
import { UNDER_WAY, onTheWay, stillToMove } from './transfer-quantities';

const NONE = asQuantity(0);
const source = alias(warehouse, 'source');

/** Whether a transfer is to ship, or what is on its way to arrive, on a day that compares so with another one. */
const transferOn = (compared: typeof lt, day: SQL): SQL =>
  sql`${or(
    and(eq(transfer.state, 'requested'), compared(transfer.shipDate, day)),
    and(inArray(transfer.state, ['shipped', 'partReceived']), compared(transfer.dueDate, day)),
  )}`;

const transfers = list<{ today: string }>(($) => ({
  columns: {
    id: asNumber(transfer.id),
    number: asText(transfer.number),
    from: asText(source.code),
    to: asText(warehouse.code),
    state: asText(transfer.state),
    shipDate: asText(transfer.shipDate),
    dueDate: asText(transfer.dueDate),
    carrier: asText(transfer.carrier),
    late: asFlag(transferOn(lt, sql`${$.today}`)),
    due: asFlag(transferOn(lte, sql`${$.today}`)),
    lines: asNumber(countOf(transferLine, eq(transferLine.transferId, transfer.id))),
    inTransit: asQuantityText(
      scalar(
        inner
          .select({ n: total(onTheWay) })
          .from(transferLine)
          .where(eq(transferLine.transferId, transfer.id)),
      ),
    ),
  },
  from: transfer,
  joins: [refersTo(source, eq(source.id, transfer.fromId)), refersTo(warehouse, eq(warehouse.id, transfer.toId))],
  find: [transfer.number, transfer.carrier, transfer.note, source.code, warehouse.code],
  order: [sql`${transfer.id} desc`],
  tie: [sql`${transfer.id} desc`],
}));

export function listTransfers(work: Work, asked: ListQuery): AnswerOf<typeof api.stores.listTransfers> {
  return listPage(work, transfers, asked, { today: work.today });
}

type LineRecord = typeof transferLine.$inferSelect;
type PieceRecord = typeof transferPiece.$inferSelect;
const transferOf = fetching(transfer, 'transfer');
const linesOf = fetchingAll(transferLine, transferLine.transferId, transferLine.position);
const piecesOf = fetchingAll(transferPiece, transferPiece.lineId, transferPiece.id);
const loseMore = command(
  ($: { id: number; left: Quantity }) => (db) =>
    db
      .update(transferLine)
      .set({ lost: plus(transferLine.lost, $.left) })
      .where(eq(transferLine.id, $.id)),
);

export function transferView(work: Work, id: number): TransferView {
  const kept = transferOf(work, id);
  const lines = linesOf(work, id);
  return {
    ...kept,
    from: warehouseOf(work, kept.fromId).code,
    to: warehouseOf(work, kept.toId).code,
    inTransit: writeQuantity(lines.reduce((sum, line) => sum + line.shipped - line.received - line.lost, 0)),
    lines: lines.map((line) => {
      const item = itemFacts(work, line.itemId);
      const { tracking } = trackingOf(work, line.itemId);
      const held = kept.state === 'requested' ? binsHolding(work, line.itemId, kept.fromId) : [];
      return {
        id: line.id,
        position: line.position,
        itemId: line.itemId,
        code: item.code,
        description: item.description,
        unit: item.unit,
        decimals: item.decimals,
        tracking,
        quantity: writeQuantity(line.quantity),
        reserved: writeQuantity(reservedFor(work, 'transfer', line.id)),
        shipped: writeQuantity(line.shipped),
        received: writeQuantity(line.received),
        lost: writeQuantity(line.lost),
        onTheWay: writeQuantity(line.shipped - line.received - line.lost),
        bin: [...new Set(held.map((each) => each.bin))].slice(0, 3).join(', '),
        pieces:
          kept.state === 'requested'
            ? []
            : piecesOf(work, line.id).flatMap((piece) =>
                piece.quantity > piece.arrived
                  ? [{ lot: piece.lot, serial: piece.serial, quantity: writeQuantity(piece.quantity - piece.arrived), bin: '', expiry: null }]
                  : [],
              ),
      };
    }),
  };
}

/** Asks for stock of another warehouse; what is free there is reserved. */
export function requestTransfer(work: Work, input: BodyOf<typeof api.stores.requestTransfer>): TransferView {
  const from = atField('fromId', () => warehouseOf(work, input.fromId));
  const to = atField('toId', () => warehouseOf(work, input.toId));
  if (input.fromId === input.toId)
    throw new Refusal('sameWarehouse', `A transfer from ${from.code} to itself moves nothing: within a warehouse, move between bins.`, {
      field: 'toId',
    });
  if (input.dueDate < input.shipDate)
    throw new Refusal('badDate', `It can't arrive on ${input.dueDate}, before it ships on ${input.shipDate}.`, { field: 'dueDate' });
  const number = work.nextNumber('TR');
  const { fromId, toId, shipDate, dueDate, carrier, note } = input;
  const id = addRow(work, transfer, { number, fromId, toId, date: work.today, shipDate, dueDate, carrier, note, state: 'requested' });
  input.lines.forEach((line, index) => {
    const item = atField(`lines.${index}.itemId`, () => usableItem(work, line.itemId));
    if (item.kind !== 'stocked')
      throw new Refusal('notStocked', `${item.code} is not kept in stock, so none of it can be transferred.`, { field: `lines.${index}.itemId` });
    const quantity = atField(`lines.${index}.quantity`, () => parsePositiveQuantity(line.quantity, item.decimals, `the quantity of ${item.code}`));
    const lineId = addRow(work, transferLine, { transferId: id, position: index + 1, itemId: item.id, quantity });
    reserveFree(work, item.id, input.fromId, { kind: 'transfer', id: lineId, documentId: id, documentNumber: number }, quantity);
  });
  work.record('transfer', id, `asked for ${number} from ${from.code} to ${to.code}`);
  work.notify('stockAskedFor', ['storekeeper'], `${number}: ${to.code} asks for stock of ${from.code}`, { kind: 'transfer', id });
  return transferView(work, id);
}

/** The line that is named, once. Refuses `unknownLine`. */
function lineNamed(
  { number }: { readonly number: string },
  lines: readonly LineRecord[],
  given: readonly { readonly lineId: number }[],
  index: number,
  lineId: number,
): LineRecord {
  const line = lines.find((each) => each.id === lineId);
  if (!line || given.findIndex((each) => each.lineId === lineId) < index)
    throw new Refusal('unknownLine', `This line does not belong to ${number}, or is there twice.`, { field: `lines.${index}` });
  return line;
}

type Shipping = BodyOf<typeof api.stores.shipTransfer>;

/**
 * Ships what is given, or what is reserved: it leaves its bins and is in transit to the dock it goes to. For what is not
 * shipped another transfer is asked for, so that nothing is forgotten.
 */
export function shipTransfer(work: Work, id: number, input: Shipping): TransferView {
  const kept = transferOf(work, id);
  assertVersion(work, 'transfer', kept, input.version, kept.number);
  if (kept.state !== 'requested') throw new Refusal('wrongState', `${kept.number} is ${kept.state}: it has left already.`);
  const date = input.date ?? work.today;
  const dock = binOf(work, kept.toId, undefined);
  const lines = linesOf(work, id);
  const given =
    input.lines ?? lines.map((line) => ({ lineId: line.id, quantity: writeQuantity(reservedFor(work, 'transfer', line.id)), pieces: undefined }));
  const leaving = given.flatMap(({ lineId, quantity: text, pieces }, index) => {
    const line = lineNamed(kept, lines, given, index, lineId);
    return atField(`lines.${index}.quantity`, () => {
      const { code, decimals } = itemFacts(work, line.itemId);
      const quantity = parseQuantity(text, decimals, `the quantity of ${code}`);
      if (quantity < 0 || quantity > line.quantity)
        throw new Refusal('tooMuch', `${text} of ${code} can't ship: ${writeQuantity(line.quantity)} were asked for.`, {
          most: writeQuantity(line.quantity),
        });
      return quantity === 0 ? [] : [{ line, quantity, pieces, index }];
    });
  });
  const takes = takeForAll(
    work,
    leaving.map(({ line, quantity, pieces, index }) => ({
      item: line.itemId,
      warehouse: kept.fromId,
      quantity,
      pieces,
      purpose: 'any',
      date,
      at: (act) => atField(`lines.${index}.quantity`, act),
    })),
  );
  const moves = leaving.flatMap(({ line, quantity }, at) => {
    setRow(work, transferLine, line.id, { shipped: quantity });
    return (takes[at] ?? []).map((take): MoveRequest => {
      addRow(work, transferPiece, { lineId: line.id, lot: take.key.lot, serial: take.key.serial, quantity: take.quantity });
      return {
        item: line.itemId,
        quantity: take.quantity,
        from: { kind: 'stock', key: take.key },
        to: { kind: 'stock', key: { ...take.key, warehouse: kept.toId, bin: dock, state: 'inTransit' } },
        holder: { kind: 'transfer', id: line.id },
      };
    });
  });
  if (moves.length === 0) throw new Refusal('nothingToShip', `Nothing of ${kept.number} would ship: cancel it instead.`, { field: 'lines' });
  postMoves(work, { document: { kind: 'transfer', id, number: kept.number }, date, moves, entry: { event: () => ({ kind: 'transfer' }) } });
  for (const line of lines) dropReservation(work, 'transfer', line.id);
  changeRow(work, transfer, id, { state: 'shipped', shipDate: date });
  const rest = askForRest(work, kept, linesOf(work, id));
  work.record('transfer', id, `shipped ${kept.number}${rest === null ? '' : `; ${rest} asks for the rest`}`);
  work.notify('onItsWay', ['storekeeper', 'manager'], `${kept.number} is on its way to ${warehouseOf(work, kept.toId).code}`, {
    kind: 'transfer',
    id,
  });
  return transferView(work, id);
}

/** Asks for what of a transfer did not ship; answers the number, or `null` where all did. */
function askForRest(work: Work, kept: ReturnType<typeof transferOf>, lines: readonly LineRecord[]): string | null {
  const left = lines.filter((line) => line.shipped < line.quantity);
  if (left.length === 0) return null;
  const number = work.nextNumber('TR');
  const { fromId, toId, carrier } = kept;
  const [shipDate, dueDate] = [work.today, kept.dueDate < work.today ? work.today : kept.dueDate];
  const note = `rest of ${kept.number}`;
  const id = addRow(work, transfer, { number, fromId, toId, date: work.today, shipDate, dueDate, carrier, note, state: 'requested' });
  left.forEach((line, index) => {
    const quantity = asQuantity(line.quantity - line.shipped);
    const lineId = addRow(work, transferLine, { transferId: id, position: index + 1, itemId: line.itemId, quantity });
    reserveFree(work, line.itemId, fromId, { kind: 'transfer', id: lineId, documentId: id, documentNumber: number }, quantity);
  });
  work.link('transfer', kept.id, 'transfer', id);
  work.record('transfer', id, `asked for ${number}: the ${note}`);
  return number;
}

/**
 * Takes the shipping of a transfer back of which nothing has arrived: what is in transit lies where it lay and is reserved
 * for the transfer again.
 */
export function takeTransferBack(work: Work, id: number, version: number): TransferView {
  const kept = transferOf(work, id);
  assertVersion(work, 'transfer', kept, version, kept.number);
  const lines = linesOf(work, id);
  if (kept.state !== 'shipped' || lines.some((line) => line.received > 0 || line.lost > 0))
    throw new Refusal('wrongState', `${kept.number} is ${kept.state}: only what is on its way, and of which nothing has arrived, can be taken back.`);
  reverseMoves(work, { kind: 'transfer', id, number: kept.number }, work.today, 'left');
  for (const line of lines) {
    dropRows(work, transferPiece, { lineId: line.id });
    // What did not ship stands in a transfer of its own.
    setRow(work, transferLine, line.id, { quantity: line.shipped, shipped: NONE });
    const holder = { kind: 'transfer', id: line.id, documentId: id, documentNumber: kept.number } as const;
    if (line.shipped > 0) reserveFree(work, line.itemId, kept.fromId, holder, line.shipped);
  }
  changeRow(work, transfer, id, { state: 'requested' });
  work.record('transfer', id, `took ${kept.number} back from its way`);
  return transferView(work, id);
}

/**
 * Receives what arrived. What is missing stays in transit; with a reason it is given up and its value goes to the
 * reason's account. More than was shipped is refused.
 */
export function receiveTransfer(work: Work, id: number, input: BodyOf<typeof api.stores.receiveTransfer>): TransferView {
  const kept = transferOf(work, id);
  assertVersion(work, 'transfer', kept, input.version, kept.number);
  if (kept.state !== 'shipped' && kept.state !== 'partReceived')
    throw new Refusal('wrongState', `${kept.number} is ${kept.state}: only what is on its way can be received.`);
  const date = input.date ?? work.today;
  const dock = binOf(work, kept.toId, undefined);
  const bin = binOf(work, kept.toId, input.binId);
  const lines = linesOf(work, id);
  const key = (line: LineRecord, piece: PieceRecord) => ({ item: line.itemId, warehouse: kept.toId, lot: piece.lot, serial: piece.serial });
  const document = { kind: 'transfer', id, number: kept.number } as const;
  const arrive = (line: LineRecord, piece: PieceRecord, quantity: number): MoveRequest => {
    setRow(work, transferPiece, piece.id, { arrived: asQuantity(piece.arrived + quantity) });
    return {
      item: line.itemId,
      quantity: asQuantity(quantity),
      from: { kind: 'stock', key: { ...key(line, piece), bin: dock, state: 'inTransit' } },
      to: { kind: 'stock', key: { ...key(line, piece), bin, state: 'available' } },
    };
  };
  const moves = input.lines.flatMap(({ lineId, quantity: text, pieces }, index): MoveRequest[] => {
    const line = lineNamed(kept, lines, input.lines, index, lineId);
    return atField(`lines.${index}.quantity`, () => {
      const { code, decimals } = itemFacts(work, line.itemId);
      const quantity = parseQuantity(text, decimals, `the quantity of ${code}`);
      const open = line.shipped - line.received - line.lost;
      if (quantity < 0 || quantity > open)
        throw new Refusal(
          'tooMuch',
          `${text} of ${code} can't have arrived: ${writeQuantity(open)} are on the way. Receive these, and adjust for what was found besides.`,
          {
            most: writeQuantity(open),
          },
        );
      if (quantity === 0) return [];
      setRow(work, transferLine, line.id, { received: asQuantity(line.received + quantity) });
      return arriving(work, line, quantity, pieces).map(({ piece, part }) => arrive(line, piece, part));
    });
  });
  if (moves.length > 0) postMoves(work, { document, date, moves, entry: { event: () => ({ kind: 'transfer' }) } });
  if (input.reason !== undefined) {
    const reason = reasonOf(work, input.reason);
    if (reason.noteNeeded && input.note === '')
      throw new Refusal('noteNeeded', `"${reason.name}" needs a note: say what happened.`, { field: 'note' });
    const lost = linesOf(work, id).flatMap((line) =>
      piecesOf(work, line.id)
        .filter((piece) => piece.quantity > piece.arrived)
        .map((piece): MoveRequest => {
          const left = asQuantity(piece.quantity - piece.arrived);
          setRow(work, transferPiece, piece.id, { arrived: piece.quantity });
          loseMore.run(work, { id: line.id, left });
          return {
            item: line.itemId,
            quantity: left,
            from: { kind: 'stock', key: { ...key(line, piece), bin: dock, state: 'inTransit' } },
            to: { kind: 'adjustment', id },
          };
        }),
    );
    if (lost.length > 0)
      postMoves(work, { document, date, moves: lost, note: input.note, entry: { event: (valued) => adjustmentEvent(valued, reason.account) } });
  } else if (moves.length === 0) {
    throw new Refusal('nothingArrived', 'Nothing has arrived: say how much, or give a reason to give it up.', { field: 'lines' });
  }
  const left = linesOf(work, id).some((line) => line.shipped > line.received + line.lost);
  changeRow(work, transfer, id, { state: left ? 'partReceived' : 'received' });
  work.record('transfer', id, `received ${left ? 'part of ' : ''}${kept.number}`);
  return transferView(work, id);
}

/** Which of the pieces on the way have arrived: those named, else in their order. */
function arriving(
  work: Work,
  line: LineRecord,
  quantity: Quantity,
  pieces: Parameters<typeof piecesNamed>[3] | undefined,
): { readonly piece: PieceRecord; readonly part: number }[] {
  const moving = piecesOf(work, line.id).filter((piece) => piece.quantity > piece.arrived);
  const wanted = pieces && pieces.length > 0 ? piecesNamed(work, line.itemId, quantity, pieces) : null;
  const fill = (candidates: readonly PieceRecord[], most: number, name: string): { piece: PieceRecord; part: number }[] => {
    let left = most;
    const parts = candidates.flatMap((piece) => {
      const part = Math.min(left, piece.quantity - piece.arrived);
      left -= part;
      return part > 0 ? [{ piece, part }] : [];
    });
    if (left > 0)
      throw new Refusal('notOnTheWay', `${name} is not on the way in this quantity: ${writeQuantity(most - left)} of it are.`, { field: 'pieces' });
    return parts;
  };
  if (!wanted) return fill(moving, quantity, itemFacts(work, line.itemId).code);
  return wanted.flatMap((named) =>
    fill(
      moving.filter((piece) => piece.lot === named.lot && piece.serial === named.serial),
      named.quantity,
      named.serial === '' ? `Lot ${named.lot}` : named.serial,
    ),
  );
}

/** Cancels a transfer that has not left; what was reserved is free again. */
export function cancelTransfer(work: Work, id: number, version: number): TransferView {
  const kept = transferOf(work, id);
  assertVersion(work, 'transfer', kept, version, kept.number);
  if (kept.state !== 'requested')
    throw new Refusal('wrongState', `${kept.number} is ${kept.state}: it has left, so receive it, or give up what was lost.`);
  for (const line of linesOf(work, id)) {
    dropReservation(work, 'transfer', line.id);
    work.touch('stock', line.itemId, kept.number);
  }
  changeRow(work, transfer, id, { state: 'cancelled' });
  work.record('transfer', id, `cancelled ${kept.number}`);
  return transferView(work, id);
}

const moving = query(
  ($: { item: number; warehouse: number }) => (db) =>
    db
      .select({
        id: transfer.id,
        lineId: transferLine.id,
        number: transfer.number,
        state: transfer.state,
        fromId: transfer.fromId,
        shipDate: transfer.shipDate,
        dueDate: transfer.dueDate,
        open: stillToMove,
      })
      .from(transferLine)
      .innerJoin(transfer, eq(transfer.id, transferLine.transferId))
      .where(and(eq(transferLine.itemId, $.item), or(eq(transfer.toId, $.warehouse), eq(transfer.fromId, $.warehouse)), UNDER_WAY)),
);

/** What transfers take from a warehouse and bring to it. */
export function transferEvents(work: Work, item: number, place: number): StockEvent[] {
  return moving.all(work, { item, warehouse: place }).flatMap((row): StockEvent[] => {
    if (row.open === 0) return [];
    const event = { quantity: asQuantity(row.open), document: row.number, firm: true, link: { kind: 'transfer' as const, id: row.id } };
    if (row.fromId !== place) return [{ ...event, date: row.dueDate, kind: 'supply', holder: null }];
    return row.state === 'requested' ? [{ ...event, date: row.shipDate, kind: 'demand', holder: { kind: 'transfer', id: row.lineId } }] : [];
  });
}
