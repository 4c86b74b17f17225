/** Serial numbers: where each is and everything that happened to it. */
import type { api } from '@terrace/contract';
import { type AnswerOf, type BodyOf, type QueryOf, type SerialView } from '@terrace/contract';
import { and, eq, exists, isNull, ne, or, sql, type SQL } from 'drizzle-orm';
import { alias } from 'drizzle-orm/sqlite-core';
import { writeAmount, writeQuantity, type Quantity } from '@terrace/core';
import { bin, customer, item, supplier, warehouse } from '../catalogue';
import { flag, inner, orEmpty, scalar } from '../platform/expressions';
import { asNumber, asText, list, listPage, refersTo } from '../platform/list';
import { command, query } from '../platform/query';
import { changeRow, orNotFound } from '../platform/rows';
import { user } from '../platform/schema';
import { assertVersion, changesBetween } from '../platform/versions';
import type { Work } from '../platform/work';
import { isStanding, isTakenBack, placeName, stands } from './moves';
import { balance, stockMove } from './schema';
import { lot, serialNumber } from './tracking-schema';

/** Where a serial number lies now. */
function here(shown: SQL): SQL<string | null> {
  return scalar(
    inner
      .select({ shown })
      .from(balance)
      .innerJoin(warehouse, eq(warehouse.id, balance.warehouseId))
      .innerJoin(bin, eq(bin.id, balance.binId))
      .where(and(eq(balance.itemId, serialNumber.itemId), eq(balance.serial, serialNumber.code)))
      .limit(1),
  ) as SQL<string | null>;
}
const place = here(sql`${warehouse.code} || ' ' || ${bin.code}`);
const state = here(sql`${balance.state}`);

/** Something of the last move by which it left a place. */
function lastMove(shown: SQL, where: SQL | undefined): SQL<string | null> {
  return scalar(
    inner
      .select({ shown })
      .from(stockMove)
      .where(and(eq(stockMove.itemId, serialNumber.itemId), eq(stockMove.fromSerial, serialNumber.code), where))
      .orderBy(sql`${stockMove.id} desc`)
      .limit(1),
  ) as SQL<string | null>;
}
const shippedOn = lastMove(sql`${stockMove.date}`, and(eq(stockMove.toKind, 'customer'), stands));
const left = lastMove(sql`${stockMove.toKind}`, isStanding);
const gone = sql`case ${left} when 'customer' then 'shipped' when 'production' then 'used' else 'gone' end`;

const made = alias(stockMove, 'made');
/** The piece that a component was built into. */
const builtInto = inner
  .select({ into: sql`'in ' || ${made.toSerial}` })
  .from(made)
  .where(
    and(eq(made.documentKind, 'completion'), eq(made.documentId, stockMove.documentId), eq(made.fromKind, 'production'), ne(made.toSerial, sql`''`)),
  )
  .limit(1);
const customerName = inner.select({ name: customer.name }).from(customer).where(eq(customer.id, stockMove.toId));
/** The customer, or the piece that it was built into, or the production order where that is not known. */
const wentTo = orEmpty(
  lastMove(
    sql`case ${stockMove.toKind} when 'customer' then ${customerName} when 'production' then coalesce(${builtInto}, ${stockMove.documentNumber}) else '' end`,
    isStanding,
  ),
);

type Wanted = { item?: number | undefined; warehouse?: number | undefined };

const serials = list<Wanted>(($, has) => ({
  columns: {
    id: asNumber(serialNumber.id),
    itemId: asNumber(serialNumber.itemId),
    item: asText(item.code),
    description: asText(item.description),
    serial: asText(serialNumber.code),
    place: asText(orEmpty(place)),
    state: asText(sql`coalesce(${state}, ${gone})`),
    customer: asText(sql`case when ${place} is null then ${wentTo} else '' end`),
    shippedOn: asText(sql`case when ${place} is null then ${shippedOn} end`),
    warrantyUntil: asText(serialNumber.warrantyUntil),
    contractUntil: asText(serialNumber.contractUntil),
  },
  from: serialNumber,
  joins: [refersTo(item, eq(item.id, serialNumber.itemId))],
  where: and(
    has('item') ? eq(serialNumber.itemId, $.item) : undefined,
    has('warehouse')
      ? exists(
          inner
            .select({ one: sql`1` })
            .from(balance)
            .where(and(eq(balance.itemId, serialNumber.itemId), eq(balance.serial, serialNumber.code), eq(balance.warehouseId, $.warehouse))),
        )
      : undefined,
  ),
  find: [serialNumber.code, item.code, item.description, serialNumber.note],
  order: [sql`${serialNumber.id} desc`],
  tie: [serialNumber.id],
}));

export function listSerials(work: Work, asked: QueryOf<typeof api.stores.listSerials>): AnswerOf<typeof api.stores.listSerials> {
  return listPage(work, serials, asked, { item: asked.item, warehouse: asked.warehouse });
}

const shown = query(
  ($: { id: number }) => (db) =>
    db
      .select({
        id: serialNumber.id,
        itemId: serialNumber.itemId,
        item: item.code,
        description: item.description,
        serial: serialNumber.code,
        madeOn: serialNumber.madeOn,
        supplier: orEmpty(supplier.name),
        warrantyUntil: serialNumber.warrantyUntil,
        contractUntil: serialNumber.contractUntil,
        contract: serialNumber.contract,
        note: serialNumber.note,
        version: serialNumber.version,
        place,
        state,
      })
      .from(serialNumber)
      .innerJoin(item, eq(item.id, serialNumber.itemId))
      .leftJoin(supplier, eq(supplier.id, serialNumber.supplierId))
      .where(eq(serialNumber.id, $.id)),
);
const movesOfPiece = query(
  ($: { itemId: number; serial: string }) => (db) =>
    db
      .select({
        id: stockMove.id,
        date: stockMove.date,
        from: placeName('from'),
        to: placeName('to'),
        document: stockMove.documentNumber,
        documentKind: stockMove.documentKind,
        documentId: stockMove.documentId,
        who: user.name,
        value: stockMove.value,
        fromKind: stockMove.fromKind,
        toKind: stockMove.toKind,
        toId: stockMove.toId,
        takenBack: flag(isTakenBack),
      })
      .from(stockMove)
      .innerJoin(user, eq(user.id, stockMove.userId))
      .where(and(eq(stockMove.itemId, $.itemId), or(eq(stockMove.fromSerial, $.serial), eq(stockMove.toSerial, $.serial))))
      .orderBy(stockMove.id),
);
const lotTaken = inner
  .select({ id: lot.id })
  .from(lot)
  .where(and(eq(lot.itemId, stockMove.itemId), eq(lot.code, stockMove.fromLot)));
const serialTaken = inner
  .select({ id: serialNumber.id })
  .from(serialNumber)
  .where(and(eq(serialNumber.itemId, stockMove.itemId), eq(serialNumber.code, stockMove.fromSerial)));
const ofCompletion = (completion: number): SQL | undefined =>
  and(eq(stockMove.documentKind, 'completion'), eq(stockMove.documentId, completion), isNull(stockMove.reversalOf));
const partsTaken = query(
  ($: { completion: number }) => (db) =>
    db
      .select({
        itemId: stockMove.itemId,
        item: item.code,
        description: item.description,
        quantity: sql<Quantity>`sum(${stockMove.quantity})`,
        unit: item.unitCode,
        lot: stockMove.fromLot,
        serial: stockMove.fromSerial,
        pieceId: sql<number | null>`coalesce(${lotTaken}, ${serialTaken})`,
      })
      .from(stockMove)
      .innerJoin(item, eq(item.id, stockMove.itemId))
      .where(and(ofCompletion($.completion), eq(stockMove.toKind, 'production')))
      .groupBy(stockMove.itemId, stockMove.fromLot, stockMove.fromSerial)
      .orderBy(item.code),
);
const piecesMade = query(
  ($: { completion: number }) => (db) =>
    db
      .select({ id: serialNumber.id, item: item.code, serial: serialNumber.code })
      .from(stockMove)
      .innerJoin(item, eq(item.id, stockMove.itemId))
      .innerJoin(serialNumber, and(eq(serialNumber.itemId, stockMove.itemId), eq(serialNumber.code, stockMove.toSerial)))
      .where(and(ofCompletion($.completion), eq(stockMove.fromKind, 'production'))),
);

export function serialView(work: Work, id: number): SerialView {
  const serial = orNotFound(shown.one(work, { id }), 'serial number');
  const moves = movesOfPiece.all(work, { itemId: serial.itemId, serial: serial.serial });
  const standing = moves.filter((move) => !move.takenBack);
  const came = standing.find((move) => move.fromKind !== 'stock');
  const left = standing.at(-1)?.toKind === 'customer' ? standing.at(-1) : undefined;
  const made = standing.find((move) => move.documentKind === 'completion' && move.fromKind === 'production');
  const used = standing.find((move) => move.documentKind === 'completion' && move.toKind === 'production');
  return {
    ...serial,
    state: serial.state ?? (left ? 'shipped' : used ? 'used' : 'gone'),
    cost: came ? writeAmount(came.value) : null,
    customer: left?.to ?? '',
    customerId: left?.toId ?? null,
    shippedOn: left?.date ?? null,
    moves: moves.map(({ id: _id, fromKind: _from, toKind: _to, toId: _toId, takenBack: _back, ...move }) => ({
      ...move,
      from: move.from ?? '',
      to: move.to ?? '',
      value: writeAmount(move.value),
    })),
    components: made ? componentsIn(work, made.documentId) : [],
    insideOf: used ? madeIn(work, used.documentId) : [],
  };
}

/** What one report of production took: all of it, since it is known per report. */
function componentsIn(work: Work, completion: number): SerialView['components'] {
  return partsTaken
    .all(work, { completion })

    .map((each) => ({ ...each, quantity: writeQuantity(each.quantity) }));
}

function madeIn(work: Work, completion: number): SerialView['insideOf'] {
  return piecesMade.all(work, { completion });
}

const begin = command(
  ($: { itemId: number; serial: string; until: string }) => (db) =>
    db
      .update(serialNumber)
      .set({ warrantyUntil: $.until })
      .where(and(eq(serialNumber.itemId, $.itemId), eq(serialNumber.code, $.serial), isNull(serialNumber.warrantyUntil))),
);

/** A piece's warranty begins, unless it has one. */
export function beginWarranty(work: Work, itemId: number, serial: string, until: string): void {
  begin.run(work, { itemId, serial, until });
}

/** Keeps warranty, service contract and notes. */
export function changeSerial(work: Work, id: number, input: BodyOf<typeof api.stores.changeSerial>): SerialView {
  const before = serialView(work, id);
  assertVersion(work, 'serialNumber', before, input.version, before.serial);
  const { warrantyUntil, contractUntil, contract, note } = input;
  changeRow(work, serialNumber, id, { warrantyUntil, contractUntil, contract, note });
  const after = serialView(work, id);
  const short = (view: SerialView): Record<string, string | null> => ({
    warrantyUntil: view.warrantyUntil,
    contractUntil: view.contractUntil,
    contract: view.contract,
    note: view.note,
  });
  work.record('serialNumber', id, `changed ${before.serial}`, changesBetween(short(before), short(after)));
  return after;
}
