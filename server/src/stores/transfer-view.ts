/** Transfers as they are looked at: the list, and one with its lines and what of it is on the way. */
import type { api } from '@terrace/contract';
import { type AnswerOf, type ListQuery, type TransferView } from '@terrace/contract';
import { Refusal, writeQuantity } from '@terrace/core';
import { and, eq, inArray, lt, lte, or, sql, type SQL } from 'drizzle-orm';
import { alias } from 'drizzle-orm/sqlite-core';
import { itemFacts, warehouse, warehouseOf } from '../catalogue';
import { countOf, inner, scalar, total } from '../platform/expressions';
import { asFlag, asNumber, asQuantityText, asText, list, listPage, refersTo } from '../platform/list';
import { fetching, fetchingAll } from '../platform/rows';
import type { Work } from '../platform/work';
import { transfer, transferLine, transferPiece } from './document-schema';
import { binsHolding } from './first-expiring';
import { reservedFor } from './reservations';
import { trackingOf } from './tracking';
import { onTheWay } from './transfer-quantities';

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

export type LineRecord = typeof transferLine.$inferSelect;
export type PieceRecord = typeof transferPiece.$inferSelect;
export const transferOf = fetching(transfer, 'transfer');
export const linesOf = fetchingAll(transferLine, transferLine.transferId, transferLine.position);
export const piecesOf = fetchingAll(transferPiece, transferPiece.lineId, transferPiece.id);
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

/** The line that is named, once. Refuses `unknownLine`. */
export function lineNamed(
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
