/** Order lines that the plan can't serve in time. The plan's file knows a line by name; what is kept of it is joined. */
import { and, eq, gt, or, sql } from 'drizzle-orm';
import type { AnswerOf, EndangeredRow, ListQuery, api } from '@terrace/contract';
import { customer, item } from '../catalogue';
import { inner } from '../platform/expressions';
import { asNumber, asOptionalNumber, asQuantityText, asText, list, listPage, pairedWith, refersTo } from '../platform/list';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { customerOrder, customerOrderLine as line, stillToShip } from '../selling';
import { promise, suggestion } from './plan-schema';

/** What a line waits for, in words; a suggestion is said by what it does. */
const suggestionWords = inner
  .select({ words: sql`${suggestion.kind} || ' ' || ${suggestion.code}` })
  .from(suggestion)
  .where(eq(suggestion.name, promise.cause));
const waitsFor = sql`coalesce(${suggestionWords}, nullif(${promise.cause}, ''),
  case when ${promise.ready} = '' then 'nobody supplies it' else 'its day has passed' end)`;
const daysLate = sql`case when ${promise.ready} = '' then null else cast(julianday(${promise.ready}) - julianday(${promise.wanted}) as integer) end`;

/** The ids of an order's lines are its number, a stroke and the line's place. */
const stroke = sql`instr(${promise.demand}, '/')`;
const isItsOrder = eq(customerOrder.number, sql`substr(${promise.demand}, 1, ${stroke} - 1)`);
const isItsLine = and(eq(line.orderId, customerOrder.id), eq(line.position, sql`cast(substr(${promise.demand}, ${stroke} + 1) as integer)`));

const endangered = list(() => ({
  columns: {
    id: asText(promise.demand),
    orderId: asNumber(customerOrder.id),
    number: asText(customerOrder.number),
    customer: asText(customer.name),
    code: asText(item.code),
    description: asText(item.description),
    itemId: asNumber(item.id),
    warehouseId: asNumber(customerOrder.warehouseId),
    quantity: asQuantityText(stillToShip),
    unit: asText(item.unitCode),
    wanted: asText(promise.wanted),
    ready: asText(sql`nullif(${promise.ready}, '')`),
    daysLate: asOptionalNumber(daysLate),
    cause: asText(waitsFor),
  },
  from: promise,
  joins: [
    pairedWith(customerOrder, isItsOrder),
    pairedWith(line, isItsLine ?? sql`0`),
    refersTo(customer, eq(customer.id, customerOrder.customerId)),
    refersTo(item, eq(item.id, line.itemId)),
  ],
  where: or(eq(promise.ready, sql`''`), gt(promise.ready, promise.wanted)),
  find: [customerOrder.number, customer.name, item.code, item.description],
  order: [sql`${promise.ready} = '' desc`, sql`${daysLate} desc`],
  tie: [promise.demand],
}));

/** The latest first. */
export function listEndangered(work: Work, asked: ListQuery): AnswerOf<typeof api.planning.listEndangered> {
  return listPage<EndangeredRow>(work.plan(), endangered, asked);
}

const planned = query(
  ($: { demand: string }) => (db) => db.select({ ready: promise.ready, cause: promise.cause }).from(promise).where(eq(promise.demand, $.demand)),
);

/** When the plan has a line of an order; `undefined` where it says nothing of it. */
export function plannedFor(work: Work, demand: string): { readonly ready: string | null; readonly cause: string } | undefined {
  const plan = work.inPlan();
  const row = plan ? planned.one(plan, { demand }) : undefined;
  return row && { ready: row.ready === '' ? null : row.ready, cause: row.cause };
}
