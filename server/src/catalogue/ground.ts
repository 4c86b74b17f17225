/** What everything else stands on: units, calendars, groups, currencies, warehouses, reasons, accounts. */
import type { api } from '@terrace/contract';
import type { AnswerOf, BodyOf, GroundView } from '@terrace/contract';
import {
  Refusal,
  WorkingCalendar,
  dateOf,
  dayOf,
  parseRate,
  writeDecimal,
  writePoints,
  RATE_SCALE,
  type CalendarDefinition,
  type RuleTexts,
} from '@terrace/core';
import { assertSeen, atField, orNotFound, type Work } from '../platform/work';
import { customFields, forgetFields } from './custom';
import { plainTexts } from './rule-texts';
import { readPoints } from './given';
import { booksCurrency } from './rates';

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
    currencies: named('select rowid as id, code, name from currency order by code'),
    customerGroups: named('select rowid as id, code, name from customer_group order by code'),
    taxCodes: named('select rowid as id, code, name from tax_code order by code'),
    calendars: named('select rowid as id, code, code as name from calendar order by code'),
    priceLists: named('select id, code, name from price_list where active = 1 order by code'),
    fields: [...customFields(work)].filter((each) => each.active),
  };
}

/** Units, groups, calendars, currencies, own fields, with what uses them. */
export function groundView(work: Work): GroundView {
  return {
    units: work.rows(
      'select code, name, decimals, version, (select count(*) from item i where i.unit_code = unit.code) as items from unit order by code',
    ),
    calendars: work
      .rows<{ code: string; workdays: string; holidays: string; version: number }>(
        'select code, workdays, holidays, version from calendar order by code',
      )
      .map((each) => ({ ...each, workdays: JSON.parse(each.workdays) as number[], holidays: JSON.parse(each.holidays) as string[] })),
    groups: work
      .rows<Omit<GroundView['groups'][number], 'defaults' | 'planning'> & { defaults: string; planning: string }>(
        `select code, name, parent, inventory_account as inventoryAccount, cost_of_sales_account as costOfSalesAccount, revenue_account as revenueAccount, defaults, planning, version,
           (select count(*) from item i where i.group_code = item_group.code) as items from item_group order by code`,
      )
      .map((each) => ({ ...each, defaults: JSON.parse(each.defaults) as Record<string, string>, planning: JSON.parse(each.planning) as RuleTexts })),
    accounts: work.rows('select rowid as id, code, name from account order by code'),
    currencies: work.rows<{ code: string; name: string }>('select code, name from currency order by code').map((each) => ({
      ...each,
      rates: work
        .rows<{ date: string; rate: number }>('select date, rate from exchange_rate where currency = ? order by date desc limit 24', each.code)
        .map(({ date, rate }) => ({ date, rate: writeDecimal(BigInt(rate), RATE_SCALE) })),
    })),
    customerGroups: work.rows(
      'select code, name, (select count(*) from customer c where c.group_code = customer_group.code) as customers from customer_group order by code',
    ),
    taxCodes: work
      .rows<{ code: string; name: string; rate: number }>('select code, name, rate from tax_code order by code')
      .map((each) => ({ ...each, rate: writePoints(each.rate) })),
    fields: [...customFields(work)],
  };
}

/** Where quantities of an item are kept: what must fit when its unit gets fewer decimals. */
const QUANTITIES: readonly (readonly [table: string, column: string, item: string])[] = [
  ['balance', 'quantity', 'item_id'],
  ['stock_move', 'quantity', 'item_id'],
  ['reservation', 'quantity', 'item_id'],
  ['customer_order_line', 'quantity', 'item_id'],
  ['purchase_order_line', 'quantity', 'item_id'],
  ['production_order', 'quantity', 'item_id'],
  ['production_component', 'needed', 'item_id'],
  ['pack_unit', 'factor', 'item_id'],
  ['planning_rule', 'safety', 'item_id'],
  ['planning_rule', 'minimum', 'item_id'],
  ['planning_rule', 'multiple', 'item_id'],
  ['supplier_term', 'minimum', 'item_id'],
  ['supplier_term', 'multiple', 'item_id'],
];

/** Adds or changes a unit. Its decimals may be widened, never narrowed below what is kept. */
export function saveUnit(work: Work, input: BodyOf<typeof api.catalogue.saveUnit>): void {
  const before = work.row<{ decimals: number; version: number }>('select decimals, version from unit where code = ?', input.code);
  assertSeen(before, input.version, `Unit ${input.code}`);
  if (before && input.decimals < before.decimals) {
    const step = 10 ** (5 - input.decimals);
    for (const [table, column, item] of QUANTITIES) {
      const finer = work.row<{ code: string }>(
        `select i.code from ${table} q join item i on i.id = q.${item} where i.unit_code = ? and q.${column} % ? <> 0 limit 1`,
        input.code,
        step,
      );
      if (finer)
        throw new Refusal(
          'finerKept',
          `${input.code} can't go down to ${input.decimals} decimals: ${finer.code} has finer quantities in its records. Widen it, or set up another unit.`,
          {
            field: 'decimals',
            item: finer.code,
          },
        );
    }
  }
  work.run(
    'insert into unit (code, name, decimals) values (?, ?, ?) on conflict (code) do update set name = excluded.name, decimals = excluded.decimals, version = version + 1',
    input.code,
    input.name,
    input.decimals,
  );
  work.record('setup', 0, before ? `changed unit ${input.code}` : `set up unit ${input.code}`);
}

export function saveCalendar(work: Work, input: BodyOf<typeof api.catalogue.saveCalendar>): void {
  assertSeen(work.row<{ version: number }>('select version from calendar where code = ?', input.code), input.version, `Calendar ${input.code}`);
  work.run(
    'insert into calendar (code, workdays, holidays) values (?, ?, ?) on conflict (code) do update set workdays = excluded.workdays, holidays = excluded.holidays, version = version + 1',
    input.code,
    JSON.stringify([...new Set(input.workdays)].sort()),
    JSON.stringify([...new Set(input.holidays)].sort()),
  );
  work.record('setup', 0, `set calendar ${input.code}`);
}

/** Adds or renames a currency, and with a date and a rate states what it is worth from then on. */
export function saveCurrency(work: Work, input: BodyOf<typeof api.catalogue.saveCurrency>): void {
  work.run('insert into currency (code, name) values (?, ?) on conflict (code) do update set name = excluded.name', input.code, input.name);
  if (input.rate !== undefined) {
    const text = input.rate;
    if (input.code === booksCurrency(work))
      throw new Refusal('booksCurrency', `${input.code} is the currency of the books: it is worth itself.`, { field: 'rate' });
    const rate = atField('rate', () => parseRate(text));
    work.run(
      'insert into exchange_rate (currency, date, rate) values (?, ?, ?) on conflict (currency, date) do update set rate = excluded.rate',
      input.code,
      input.date ?? work.today,
      rate,
    );
  }
  work.record('setup', 0, `set currency ${input.code}${input.rate === undefined ? '' : `: ${input.rate} from ${input.date ?? work.today}`}`);
}

export function saveCustomerGroup(work: Work, input: BodyOf<typeof api.catalogue.saveCustomerGroup>): void {
  work.run('insert into customer_group (code, name) values (?, ?) on conflict (code) do update set name = excluded.name', input.code, input.name);
  work.record('setup', 0, `set customer group ${input.code}`);
}

/** Adds or changes a tax code; customers that have it get its rate. */
export function saveTaxCode(work: Work, input: BodyOf<typeof api.catalogue.saveTaxCode>): void {
  const rate = atField('rate', () => readPoints(input.rate, 'A tax rate'));
  work.run(
    'insert into tax_code (code, name, rate) values (?, ?, ?) on conflict (code) do update set name = excluded.name, rate = excluded.rate',
    input.code,
    input.name,
    rate,
  );
  work.run('update customer set tax_rate = ?, version = version + 1 where tax_code = ? and tax_rate <> ?', rate, input.code, rate);
  work.record('setup', 0, `set tax code ${input.code} to ${input.rate} %`);
}

/** Adds or changes a field of the company's own. Its type stays once values are kept; a choice in use stays too. */
export function saveField(work: Work, input: BodyOf<typeof api.catalogue.saveField>): void {
  const fields = customFields(work);
  const before =
    input.id === undefined
      ? undefined
      : orNotFound(
          fields.find((each) => each.id === input.id),
          'field',
        );
  assertSeen(before, input.version, `The field ${input.title}`);
  if (input.type === 'choice' && input.choices.length === 0) throw new Refusal('noChoice', 'Say what can be chosen.', { field: 'choices' });
  const same = fields.find((each) => each.record === input.record && each.id !== input.id && each.title.toLowerCase() === input.title.toLowerCase());
  if (same) throw new Refusal('titleTaken', `There is a field ${same.title} already: choose another title.`, { field: 'title' });
  if (before) {
    const used = work.rows<{ value: string }>('select distinct value from custom_value where field_id = ?', before.id).map((each) => each.value);
    if (used.length > 0 && (before.type !== input.type || before.record !== input.record))
      throw new Refusal('fieldInUse', `${before.title} has values: what it holds stays. Set up another field.`, { field: 'type' });
    const lost = input.type === 'choice' ? used.find((value) => !input.choices.includes(value)) : undefined;
    if (lost !== undefined) throw new Refusal('choiceInUse', `"${lost}" is chosen on some record: it can't go.`, { field: 'choices' });
    work.run(
      'update custom_field set record = ?, title = ?, type = ?, choices = ?, active = ?, version = version + 1 where id = ?',
      input.record,
      input.title,
      input.type,
      JSON.stringify(input.choices),
      input.active ? 1 : 0,
      before.id,
    );
  } else
    work.run(
      'insert into custom_field (record, title, type, choices) values (?, ?, ?, ?)',
      input.record,
      input.title,
      input.type,
      JSON.stringify(input.choices),
    );
  forgetFields(work);
  work.record('setup', 0, `set the field ${input.title}`);
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
      'insert or ignore into item_group (code, name, parent, inventory_account, cost_of_sales_account, revenue_account, defaults, planning) values (?, ?, ?, ?, ?, ?, ?, ?)',
      each.code,
      each.name,
      each.parent,
      each.inventoryAccount,
      each.costOfSalesAccount,
      each.revenueAccount,
      JSON.stringify(each.defaults),
      JSON.stringify(plainTexts(each.planning)),
    );
  }
  for (const each of input.currencies) work.run('insert or ignore into currency (code, name) values (?, ?)', each.code, each.name);
  for (const each of input.customerGroups) work.run('insert or ignore into customer_group (code, name) values (?, ?)', each.code, each.name);
  for (const each of input.taxCodes) work.run('insert or ignore into tax_code (code, name, rate) values (?, ?, ?)', each.code, each.name, each.rate);
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

/** The day so many working days of a warehouse after another; a component is taken so long after its production starts. */
export function workingDayAfter(work: Work, warehouseId: number, date: string, days: number): string {
  return days === 0 ? date : dateOf(calendarOf(work, warehouseId).ahead(dayOf(date), days));
}

/** The working calendar of a warehouse. */
export function calendarOf(work: Work, warehouseId: number): WorkingCalendar {
  return new WorkingCalendar(calendarDefinition(work, warehouseOf(work, warehouseId).calendar));
}
