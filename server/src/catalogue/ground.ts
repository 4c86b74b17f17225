/** What everything else stands on: units, calendars, groups, warehouses, reasons, accounts. */
import type { api } from '@terrace/contract';
import { type AnswerOf, type BodyOf } from '@terrace/contract';
import { WorkingCalendar, type CalendarDefinition } from '@terrace/core';
import { orNotFound, type Work } from '../platform/work';

/** Everything short enough to choose from a list. */
export function choices(work: Work): AnswerOf<typeof api.catalogue.choices> {
  const named = <T>(sql: string): T[] => work.rows<T>(sql);
  return {
    warehouses: named('select id, code, name from warehouse order by id'),
    bins: named('select id, code, code as name, warehouse_id as warehouseId from bin order by warehouse_id, code'),
    customers: named<{ id: number; code: string; name: string; onHold: number }>(
      'select id, code, name, on_hold as onHold from customer where active = 1 order by name',
    ).map((each) => ({ ...each, onHold: each.onHold === 1 })),
    suppliers: named('select id, code, name from supplier where active = 1 order by name'),
    groups: named('select rowid as id, code, name from item_group order by code'),
    units: named('select rowid as id, code, name from unit order by code'),
    reasons: named<{ id: number; code: string; name: string; noteNeeded: number }>(
      'select rowid as id, code, name, note_needed as noteNeeded from reason order by code',
    ).map((each) => ({ ...each, noteNeeded: each.noteNeeded === 1 })),
  };
}

/** Sets the ground up; what is there by its code already is left as it is. */
export function setUpGround(work: Work, input: BodyOf<typeof api.catalogue.setUp>): Record<string, never> {
  for (const each of input.accounts) work.run('insert or ignore into account (code, name) values (?, ?)', each.code, each.name);
  for (const each of input.units) work.run('insert or ignore into unit (code, name, decimals) values (?, ?, ?)', each.code, each.name, each.decimals);
  for (const each of input.calendars)
    work.run(
      'insert or ignore into calendar (code, workdays, holidays) values (?, ?, ?)',
      each.code,
      JSON.stringify(each.workdays),
      JSON.stringify(each.holidays),
    );
  for (const each of input.groups) {
    work.run(
      'insert or ignore into item_group (code, name, parent, inventory_account, cost_of_sales_account, revenue_account) values (?, ?, ?, ?, ?, ?)',
      each.code,
      each.name,
      each.parent,
      each.inventoryAccount,
      each.costOfSalesAccount,
      each.revenueAccount,
    );
  }
  for (const each of input.reasons)
    work.run(
      'insert or ignore into reason (code, name, account, note_needed) values (?, ?, ?, ?)',
      each.code,
      each.name,
      each.account,
      each.noteNeeded ? 1 : 0,
    );
  for (const each of input.warehouses) {
    work.run('insert or ignore into warehouse (code, name, calendar) values (?, ?, ?)', each.code, each.name, each.calendar);
    const { id } = orNotFound(work.row<{ id: number }>('select id from warehouse where code = ?', each.code), 'warehouse');
    for (const code of each.bins)
      work.run('insert or ignore into bin (warehouse_id, code, dock) values (?, ?, ?)', id, code, code === each.dock ? 1 : 0);
  }
  work.record('setup', 0, 'set up units, calendars, groups, warehouses and reasons');
  return {};
}

/** A warehouse that a document may name. */
export function warehouseOf(
  work: Work,
  id: number,
): { readonly id: number; readonly code: string; readonly name: string; readonly calendar: string } {
  return orNotFound(work.row('select id, code, name, calendar from warehouse where id = ?', id), 'warehouse');
}

/** The bin that goods arrive in where no other is named. */
export function dockOf(work: Work, warehouseId: number): number {
  return orNotFound(work.row<{ id: number }>('select id from bin where warehouse_id = ? order by dock desc, code limit 1', warehouseId), 'bin').id;
}

/** A bin of a warehouse, or its dock where none is named. */
export function binOf(work: Work, warehouseId: number, binId: number | undefined): number {
  if (binId === undefined) return dockOf(work, warehouseId);
  return orNotFound(work.row<{ id: number }>('select id from bin where id = ? and warehouse_id = ?', binId, warehouseId), 'bin in this warehouse').id;
}

/** A calendar as the plan counts by it. */
export function calendarDefinition(work: Work, code: string): CalendarDefinition {
  const row = orNotFound(
    work.row<{ workdays: string; holidays: string }>('select workdays, holidays from calendar where code = ?', code),
    'calendar',
  );
  return { code, workdays: JSON.parse(row.workdays) as number[], holidays: JSON.parse(row.holidays) as string[] };
}

/** The working calendar of a warehouse. */
export function calendarOf(work: Work, warehouseId: number): WorkingCalendar {
  return new WorkingCalendar(calendarDefinition(work, warehouseOf(work, warehouseId).calendar));
}
