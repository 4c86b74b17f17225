/** The ledger as a list, newest first. */
import { and, eq, exists, gt, isNull, notExists, or, sql, type SQL } from 'drizzle-orm';
import { alias } from 'drizzle-orm/sqlite-core';
import type { api } from '@terrace/contract';
import type { AnswerOf, ListQuery } from '@terrace/contract';
import { bin, customer, item, supplier, warehouse } from '../catalogue';
import { inner, scalar, total } from '../platform/expressions';
import { asAmountText, asFlag, asNumber, asQuantityText, asText, list, listPage, refersTo } from '../platform/list';
import { query } from '../platform/query';
import { user } from '../platform/schema';
import type { Work } from '../platform/work';
import { otherRooms } from './handed-in';
import { balance, stockMove } from './schema';

const contrary = alias(stockMove, 'contrary');
const contraryOf = inner
  .select({ one: sql`1` })
  .from(contrary)
  .where(eq(contrary.reversalOf, stockMove.id));

/** A move that takes another back, or was taken back. */
export const isTakenBack: SQL = sql`${stockMove.reversalOf} is not null or ${exists(contraryOf)}`;

/** A move that was not taken back. */
export const stands: SQL = notExists(contraryOf);

/** A move that stands and takes none back. */
export const isStanding = and(isNull(stockMove.reversalOf), stands);

/** The place on one side of a move, in words. */
export function placeName(side: 'from' | 'to'): SQL<string | null> {
  const [kind, id, binId] =
    side === 'from' ? [stockMove.fromKind, stockMove.fromId, stockMove.fromBinId] : [stockMove.toKind, stockMove.toId, stockMove.toBinId];
  const place = inner
    .select({ name: sql`${warehouse.code} || ' ' || ${bin.code}` })
    .from(warehouse)
    .crossJoin(bin)
    .where(and(eq(warehouse.id, id), eq(bin.id, binId)));
  const supplied = inner.select({ name: supplier.name }).from(supplier).where(eq(supplier.id, id));
  const bought = inner.select({ name: customer.name }).from(customer).where(eq(customer.id, id));
  return sql<string | null>`case ${kind}
    when 'stock' then ${place}
    when 'supplier' then ${supplied}
    when 'customer' then ${bought}
    when 'production' then ${otherRooms.get().productionNumber(id)}
    else ${stockMove.documentNumber} end`;
}

/** A figure of a move as it counts for stock: what leaves counts below nothing. */
const signed = (figure: SQL | typeof stockMove.quantity | typeof stockMove.value): SQL =>
  sql`case when ${stockMove.fromKind} = 'stock' and ${stockMove.toKind} <> 'stock' then -${figure} else ${figure} end`;

/** What is said on the side that it went to, else on the one that it came from. */
const oneOf = (to: SQL | typeof stockMove.toLot, from: SQL | typeof stockMove.toLot): SQL => sql`case when ${to} <> '' then ${to} else ${from} end`;

const later = alias(stockMove, 'later');
const movedLater = (side: typeof later.toKind | typeof later.fromKind): SQL =>
  sql`sum(case when ${side} = 'stock' then ${later.quantity} else 0 end)`;
/** All that was there after a move is all that is there now, less what came and went since. */
const quantityNow = scalar(
  inner
    .select({ n: total(balance.quantity) })
    .from(balance)
    .where(eq(balance.itemId, stockMove.itemId)),
);
const cameSince = scalar(
  inner
    .select({ n: sql`coalesce(${movedLater(later.toKind)} - ${movedLater(later.fromKind)}, 0)` })
    .from(later)
    .where(and(eq(later.itemId, stockMove.itemId), gt(later.id, stockMove.id))),
);
const quantityAfter = sql`${quantityNow} - ${cameSince}`;

type Wanted = { item?: number | undefined; lot?: string | undefined; serial?: string | undefined };

const moves = list<Wanted>(($, has) => ({
  columns: {
    id: asNumber(stockMove.id),
    date: asText(stockMove.date),
    at: asText(stockMove.at),
    code: asText(item.code),
    quantity: asQuantityText(signed(stockMove.quantity)),
    unit: asText(item.unitCode),
    from: asText(placeName('from')),
    to: asText(placeName('to')),
    lot: asText(oneOf(sql`${stockMove.toLot}`, sql`${stockMove.fromLot}`)),
    serial: asText(oneOf(sql`${stockMove.toSerial}`, sql`${stockMove.fromSerial}`)),
    state: asText(sql`case
      when ${stockMove.fromState} <> '' and ${stockMove.toState} <> '' and ${stockMove.fromState} <> ${stockMove.toState}
        then ${stockMove.fromState} || ' → ' || ${stockMove.toState}
      when ${stockMove.toState} <> '' then ${stockMove.toState} else ${stockMove.fromState} end`),
    note: asText(stockMove.note),
    value: asAmountText(signed(stockMove.value)),
    document: asText(stockMove.documentNumber),
    documentKind: asText(stockMove.documentKind),
    documentId: asNumber(stockMove.documentId),
    who: asText(user.name),
    reversed: asFlag(isTakenBack),
    after: asQuantityText(quantityAfter),
  },
  from: stockMove,
  joins: [refersTo(item, eq(item.id, stockMove.itemId)), refersTo(user, eq(user.id, stockMove.userId))],
  where: and(
    has('item') ? eq(stockMove.itemId, $.item) : undefined,
    has('lot') ? or(eq(stockMove.fromLot, $.lot), eq(stockMove.toLot, $.lot)) : undefined,
    has('serial') ? or(eq(stockMove.fromSerial, $.serial), eq(stockMove.toSerial, $.serial)) : undefined,
  ),
  find: [stockMove.documentNumber, item.code, stockMove.note, stockMove.toLot, stockMove.fromLot, stockMove.toSerial, stockMove.fromSerial],
  order: [sql`${stockMove.id} desc`],
  tie: [stockMove.id],
}));

export function listMoves(work: Work, asked: ListQuery & Wanted): AnswerOf<typeof api.stores.moves> {
  return listPage(work, moves, asked, { item: asked.item, lot: asked.lot, serial: asked.serial });
}

const MOST_FIRST = 3;
const first = query(
  ($: { itemId: number }) => (db) =>
    db.select({ number: stockMove.documentNumber }).from(stockMove).where(eq(stockMove.itemId, $.itemId)).orderBy(stockMove.id).limit(MOST_FIRST),
);

/** Numbers of the first three documents that moved an item; empty where nothing has. */
export function firstMoves(work: Work, itemId: number): string[] {
  return first.all(work, { itemId }).map((each) => each.number);
}
