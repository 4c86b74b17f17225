/** Transfers between warehouses: asked for, shipped, taken back from the way, cancelled. */
import type { api } from '@terrace/contract';
import type { BodyOf, TransferView } from '@terrace/contract';
import { Refusal, asQuantity, parsePositiveQuantity, parseQuantity, writeQuantity } from '@terrace/core';
import { assertMayHere, binOf, itemFacts, usableItem, usableWarehouse, warehouseOf } from '../catalogue';
import { atField } from '../platform/fields';
import { addRow, changeRow, dropRows, setRow } from '../platform/rows';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { transfer, transferLine, transferPiece } from './document-schema';
import { takeForAll } from './first-expiring';
import { postMoves, reverseMoves, type MoveRequest } from './post-moves';
import { dropReservation, reserveFree, reservedFor } from './reservations';
import { lineNamed, linesOf, transferOf, transferView, type LineRecord } from './transfer-view';

const NONE = asQuantity(0);
/** Asks for stock of another warehouse; what is free there is reserved. */
export function requestTransfer(work: Work, input: BodyOf<typeof api.stores.requestTransfer>): TransferView {
  const from = atField('fromId', () => usableWarehouse(work, input.fromId));
  const to = atField('toId', () => usableWarehouse(work, input.toId));
  atField('toId', () => assertMayHere(work, 'stores.adjust', input.toId));
  if (input.fromId === input.toId)
    throw new Refusal('sameWarehouse', `A transfer from ${from.code} to itself moves nothing: within a warehouse, move between bins.`, {
      field: 'toId',
    });
  if (input.dueDate < input.shipDate)
    throw new Refusal('badDate', `It can't arrive on ${input.dueDate}, before it ships on ${input.shipDate}.`, { field: 'dueDate' });
  const lines = input.lines.map((line, index) => {
    const item = atField(`lines.${index}.itemId`, () => usableItem(work, line.itemId));
    if (item.kind !== 'stocked')
      throw new Refusal('notStocked', `${item.code} is not kept in stock, so none of it can be transferred.`, { field: `lines.${index}.itemId` });
    const quantity = atField(`lines.${index}.quantity`, () => parsePositiveQuantity(line.quantity, item.decimals, `the quantity of ${item.code}`));
    return { itemId: item.id, quantity };
  });
  const { id, number } = ask(work, input, lines);
  work.record('transfer', id, `asked for ${number} from ${from.code} to ${to.code}`);
  work.notify('stockAskedFor', `${number}: ${to.code} asks for stock of ${from.code}`, { kind: 'transfer', id });
  return transferView(work, id);
}

type Asked = Pick<typeof transfer.$inferSelect, 'fromId' | 'toId' | 'shipDate' | 'dueDate' | 'carrier' | 'note'>;

/** Writes a transfer that is asked for, and reserves for it what is free. */
function ask(
  work: Work,
  { fromId, toId, shipDate, dueDate, carrier, note }: Asked,
  lines: readonly Pick<LineRecord, 'itemId' | 'quantity'>[],
): { id: number; number: string } {
  const number = work.nextNumber('TR');
  const id = addRow(work, transfer, { number, fromId, toId, date: work.today, shipDate, dueDate, carrier, note, state: 'requested' });
  lines.forEach(({ itemId, quantity }, index) => {
    const lineId = addRow(work, transferLine, { transferId: id, position: index + 1, itemId, quantity });
    reserveFree(work, itemId, fromId, holderOf(id, number, lineId), quantity);
  });
  return { id, number };
}

const holderOf = (documentId: number, documentNumber: string, id: number) => ({ kind: 'transfer', id, documentId, documentNumber }) as const;

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
  work.notify('onItsWay', `${kept.number} is on its way to ${warehouseOf(work, kept.toId).code}`, {
    kind: 'transfer',
    id,
  });
  return transferView(work, id);
}

/** Asks for what of a transfer did not ship; answers the number, or `null` where all did. */
function askForRest(work: Work, kept: ReturnType<typeof transferOf>, lines: readonly LineRecord[]): string | null {
  const left = lines.filter((line) => line.shipped < line.quantity);
  if (left.length === 0) return null;
  const note = `rest of ${kept.number}`;
  const { id, number } = ask(
    work,
    { ...kept, shipDate: work.today, dueDate: kept.dueDate < work.today ? work.today : kept.dueDate, note },
    left.map((line) => ({ itemId: line.itemId, quantity: asQuantity(line.quantity - line.shipped) })),
  );
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
    if (line.shipped > 0) reserveFree(work, line.itemId, kept.fromId, holderOf(id, kept.number, line.id), line.shipped);
  }
  changeRow(work, transfer, id, { state: 'requested' });
  work.record('transfer', id, `took ${kept.number} back from its way`);
  return transferView(work, id);
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
