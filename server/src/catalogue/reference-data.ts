/** What everything else stands on, in one view, and its setting up: units, calendars, groups, currencies, warehouses, reasons. */
import { desc, eq } from 'drizzle-orm';
import type { api } from '@terrace/contract';
import type { BodyOf, GroundView } from '@terrace/contract';
import { RATE_SCALE, Refusal, readShifts, writeDecimal, writeShifts } from '@terrace/core';
import { countOf } from '../platform/expressions';
import { atField } from '../platform/fields';
import { query } from '../platform/query';
import { addRowOnce, keepRow, orNotFound } from '../platform/rows';
import { assertSeen } from '../platform/versions';
import type { Work } from '../platform/work';
import { customFields } from './custom-fields';
import { otherRooms } from './handed-in';
import { currency, customer, customerGroup, exchangeRate, paymentTerm, taxCode } from './party-schema';
import { bin, calendar, item, itemGroup, reason, unit, warehouse } from './schema';
import { paymentTermsView, setTaxRate, taxCodesView } from './tax';
import { warehouseIdOf } from './warehouses';

const units = query(
  () => (db) =>
    db
      .select({
        code: unit.code,
        name: unit.name,
        decimals: unit.decimals,
        version: unit.version,
        items: countOf(item, eq(item.unitCode, unit.code)),
      })
      .from(unit)
      .orderBy(unit.code),
);
const calendars = query(() => (db) => db.select().from(calendar).orderBy(calendar.code));
const groups = query(
  () => (db) =>
    db
      .select({
        code: itemGroup.code,
        name: itemGroup.name,
        parent: itemGroup.parent,
        inventoryAccount: itemGroup.inventoryAccount,
        costOfSalesAccount: itemGroup.costOfSalesAccount,
        revenueAccount: itemGroup.revenueAccount,
        defaults: itemGroup.defaults,
        planning: itemGroup.planning,
        version: itemGroup.version,
        items: countOf(item, eq(item.groupCode, itemGroup.code)),
      })
      .from(itemGroup)
      .orderBy(itemGroup.code),
);
const currencies = query(() => (db) => db.select({ code: currency.code, name: currency.name }).from(currency).orderBy(currency.code));
const LATEST_RATES = 24;
const ratesOf = query(
  ($: { currency: string }) => (db) =>
    db
      .select({ date: exchangeRate.date, rate: exchangeRate.rate })
      .from(exchangeRate)
      .where(eq(exchangeRate.currency, $.currency))
      .orderBy(desc(exchangeRate.date))
      .limit(LATEST_RATES),
);
const customerGroups = query(
  () => (db) =>
    db
      .select({ code: customerGroup.code, name: customerGroup.name, customers: countOf(customer, eq(customer.groupCode, customerGroup.code)) })
      .from(customerGroup)
      .orderBy(customerGroup.code),
);

/** Units, groups, calendars, currencies, own fields, with what uses them. */
export function groundView(work: Work): GroundView {
  return {
    units: units.all(work),
    calendars: calendars.all(work).map(({ shifts, ...each }) => ({ ...each, shifts: writeShifts(shifts) })),
    groups: groups.all(work).map((each) => ({ ...each, defaults: { ...each.defaults } })),
    accounts: otherRooms.get().accounts(work),
    currencies: currencies.all(work).map((each) => ({
      ...each,
      rates: ratesOf.all(work, { currency: each.code }).map(({ date, rate }) => ({ date, rate: writeDecimal(BigInt(rate), RATE_SCALE) })),
    })),
    customerGroups: customerGroups.all(work),
    taxCodes: taxCodesView(work),
    paymentTerms: paymentTermsView(work),
    fields: [...customFields(work)],
  };
}

const calendarVersion = query(
  ($: { code: string }) => (db) => db.select({ version: calendar.version }).from(calendar).where(eq(calendar.code, $.code)),
);

export function saveCalendar(work: Work, input: BodyOf<typeof api.catalogue.saveCalendar>): void {
  assertSeen(calendarVersion.one(work, { code: input.code }), input.version, `Calendar ${input.code}`);
  keepRow(work, calendar, ['code'], {
    code: input.code,
    workdays: [...new Set(input.workdays)].sort(),
    holidays: [...new Set(input.holidays)].sort(),
    shifts: atField('shifts', () => readShifts(input.shifts)),
  });
  work.record('setup', 0, `set calendar ${input.code}`);
}

export function saveCustomerGroup(work: Work, input: BodyOf<typeof api.catalogue.saveCustomerGroup>): void {
  keepRow(work, customerGroup, ['code'], { code: input.code, name: input.name });
  work.record('setup', 0, `set customer group ${input.code}`);
}

const hasCalendar = query(($: { code: string }) => (db) => db.select({ code: calendar.code }).from(calendar).where(eq(calendar.code, $.code)));

/** Refuses what names a calendar, an account or a group that is neither there nor set up with it. */
function assertNamed(work: Work, input: BodyOf<typeof api.catalogue.setUp>): void {
  const { hasAccount } = otherRooms.get();
  const said = { accounts: new Set(input.accounts.map(({ code }) => code)), calendars: new Set(input.calendars.map(({ code }) => code)) };
  const account = (code: string, field: string): void => {
    if (!said.accounts.has(code) && !hasAccount(work, code))
      throw new Refusal('unknownAccount', `There is no account "${code}": set it up too.`, { field });
  };
  input.warehouses.forEach((each, index) => {
    if (!said.calendars.has(each.calendar) && !hasCalendar.one(work, { code: each.calendar }))
      throw new Refusal('unknownCalendar', `There is no calendar "${each.calendar}": set it up too.`, { field: `warehouses.${index}.calendar` });
  });
  input.reasons.forEach((each, index) => account(each.account, `reasons.${index}.account`));
  input.groups.forEach((each, index) => {
    for (const field of ['inventoryAccount', 'costOfSalesAccount', 'revenueAccount'] as const) account(each[field], `groups.${index}.${field}`);
  });
}

/** Sets the ground up; what is there by its code already is left as it is. Refuses `unknownCalendar`, `unknownAccount`. */
export function setUpGround(work: Work, input: BodyOf<typeof api.catalogue.setUp>): Record<string, never> {
  const { openAccount, planning } = otherRooms.get();
  assertNamed(work, input);
  for (const each of input.accounts) openAccount(work, each.code, each.name);
  for (const each of input.units) addRowOnce(work, unit, each);
  for (const { shifts, ...each } of input.calendars) addRowOnce(work, calendar, { ...each, shifts: readShifts(shifts) });
  for (const each of input.groups) addRowOnce(work, itemGroup, { ...each, planning: planning.plainTexts(each.planning) });
  for (const each of input.currencies) addRowOnce(work, currency, each);
  for (const each of input.customerGroups) addRowOnce(work, customerGroup, each);
  for (const { rate, ...each } of input.taxCodes) if (addRowOnce(work, taxCode, each)) setTaxRate(work, each, rate);
  for (const each of input.paymentTerms) addRowOnce(work, paymentTerm, each);
  for (const each of input.reasons) addRowOnce(work, reason, each);
  for (const { bins, dock, ...each } of input.warehouses) {
    addRowOnce(work, warehouse, each);
    const warehouseId = orNotFound(warehouseIdOf(work, each.code), 'warehouse');
    for (const code of bins) addRowOnce(work, bin, { warehouseId, code, dock: code === dock });
  }
  work.record('setup', 0, 'set up units, calendars, groups, warehouses and reasons');
  return {};
}
