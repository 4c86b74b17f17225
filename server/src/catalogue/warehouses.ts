/** Warehouses, their bins and calendars, as documents need to know of them. */
import { and, desc, eq } from 'drizzle-orm';
import { rightWords, type Right } from '@terrace/contract';
import { Refusal, WorkingCalendar, dateOf, dayOf, type CalendarDefinition } from '@terrace/core';
import { query, type Source } from '../platform/query';
import { fetching, orNotFound } from '../platform/rows';
import type { Work } from '../platform/work';
import { bin, calendar, warehouse } from './schema';

/** A warehouse that a document may name. Refuses `notFound`. */
export const warehouseOf = fetching(warehouse, 'warehouse');

/** A bin. Refuses `notFound`. */
export const binById = fetching(bin, 'bin');

/** A warehouse that something new may name. Refuses `notFound`, and `closed` where it is not used any more. */
export function usableWarehouse(work: Work, id: number): typeof warehouse.$inferSelect {
  const found = warehouseOf(work, id);
  if (!found.active) throw new Refusal('closed', `${found.code} is closed: choose another warehouse, or open it again in Set-up.`);
  return found;
}

/** Refuses `closed` or `blocked` where nothing may be put into a bin. */
export function assertTakesStock(work: Work, binId: number): void {
  const { code, active, blocked } = binById(work, binId);
  if (!active) throw new Refusal('closed', `Bin ${code} is closed: nothing is put there.`, { field: 'binId' });
  if (blocked) throw new Refusal('blocked', `Bin ${code} is blocked: nothing more is put there.`, { field: 'binId' });
}

/**
 * Refuses `notHere` where somebody has a right in other warehouses only. Whether they have it at all is asked before: who
 * turns a suggestion into an order, say, need not have the right to enter one.
 */
export function assertMayHere(work: Work, right: Right, warehouseId: number): void {
  const where = work.actor.grants.get(right);
  if (where === undefined || where === 'everywhere' || where.has(warehouseId)) return;
  const { code } = warehouseOf(work, warehouseId);
  throw new Refusal('notHere', `You may do this in other warehouses only, not in ${code}: it takes the right “${rightWords(right)}” there.`, {
    right,
    warehouse: code,
  });
}

const idByCode = query(($: { code: string }) => (db) => db.select({ id: warehouse.id }).from(warehouse).where(eq(warehouse.code, $.code)));
const firstBin = query(
  ($: { warehouseId: number }) => (db) =>
    db
      .select({ id: bin.id })
      .from(bin)
      .where(and(eq(bin.warehouseId, $.warehouseId), eq(bin.active, true)))
      .orderBy(desc(bin.dock), bin.code)
      .limit(1),
);
const binIn = query(
  ($: { id: number; warehouseId: number }) => (db) =>
    db
      .select({ id: bin.id })
      .from(bin)
      .where(and(eq(bin.id, $.id), eq(bin.warehouseId, $.warehouseId))),
);
const binLabelled = query(
  ($: { warehouse: string; bin: string }) => (db) =>
    db
      .select({ id: bin.id, code: bin.code, warehouse: warehouse.code })
      .from(bin)
      .innerJoin(warehouse, eq(warehouse.id, bin.warehouseId))
      .where(and(eq(warehouse.code, $.warehouse), eq(bin.code, $.bin))),
);
const calendarByCode = query(($: { code: string }) => (db) => db.select().from(calendar).where(eq(calendar.code, $.code)));
const everyWarehouse = query(() => (db) => db.select({ id: warehouse.id, code: warehouse.code }).from(warehouse).orderBy(warehouse.id));

/** All warehouses, by their numbers. */
export function warehouses(source: Source): { readonly id: number; readonly code: string }[] {
  return everyWarehouse.all(source);
}

export function warehouseIdOf(source: Source, code: string): number | undefined {
  return idByCode.one(source, { code })?.id;
}

/** The bin that a label names by warehouse and code. */
export function binByLabel(source: Source, warehouseCode: string, code: string): { readonly id: number; readonly code: string } | undefined {
  return binLabelled.one(source, { warehouse: warehouseCode, bin: code });
}

/** The bin that goods arrive in where no other is named. */
export function dockOf(work: Work, warehouseId: number): number {
  return orNotFound(firstBin.one(work, { warehouseId }), 'bin').id;
}

/** A bin of a warehouse, or its dock where none is named. */
export function binOf(work: Work, warehouseId: number, binId: number | undefined): number {
  if (binId === undefined) return dockOf(work, warehouseId);
  return orNotFound(binIn.one(work, { id: binId, warehouseId }), 'bin in this warehouse').id;
}

/** A calendar as the plan counts by it. */
export function calendarDefinition(work: Work, code: string): CalendarDefinition {
  const { workdays, holidays } = orNotFound(calendarByCode.one(work, { code }), 'calendar');
  return { code, workdays, holidays };
}

/** The day so many working days of a warehouse after another; a component is taken so long after its production starts. */
export function workingDayAfter(work: Work, warehouseId: number, date: string, days: number): string {
  return days === 0 ? date : dateOf(calendarOf(work, warehouseId).ahead(dayOf(date), days));
}

/** The working calendar of a warehouse. */
export function calendarOf(work: Work, warehouseId: number): WorkingCalendar {
  return new WorkingCalendar(calendarDefinition(work, warehouseOf(work, warehouseId).calendar));
}
