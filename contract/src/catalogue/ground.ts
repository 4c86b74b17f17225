/** What the catalogue stands on: units, groups, calendars, currencies, fields of the company's own. */
import { z } from 'zod';
import { ruleTexts } from '../planning/rules';
import { route } from '../base/route';
import { dateText, decimalText, shortText, version } from '../base/schemas';
import { customField, customRecords, customTypes } from './custom';

const choice = z.object({ id: z.number(), code: z.string(), name: z.string() });
export type Choice = z.output<typeof choice>;

const unit = z.object({ code: shortText.min(1, 'Give a code.'), name: shortText.min(1, 'Give a name.'), decimals: z.number().int().min(0).max(5) });
const calendar = z.object({
  code: shortText.min(1, 'Give a code.'),
  workdays: z.array(z.number().int().min(1).max(7)).min(1, 'Choose a day at least.'),
  holidays: z.array(dateText),
  /** One a line: a name, the days and the times, as in `Early Mon-Fri 06:00-14:00`. */
  shifts: z.string().max(2000).default(''),
});
const paymentTerm = z.object({
  code: shortText.min(1, 'Give a code.').max(20),
  name: shortText.min(1, 'Give a name.'),
  /** Calendar days to pay. */
  days: z.number().int().min(0, 'Days can’t be below 0.').max(365, 'A year at most.'),
  /** Whether they count from the end of the invoice’s month. */
  fromMonthEnd: z.boolean().default(false),
  /** Calendar days within which the discount holds. */
  discountDays: z.number().int().min(0).max(365).default(0),
  /** Percent; 0 where nothing is let off. */
  discount: decimalText.default('0'),
  active: z.boolean().default(true),
});
const group = z.object({
  code: shortText.min(1, 'Give a code.'),
  name: shortText.min(1, 'Give a name.'),
  parent: shortText.nullable(),
  inventoryAccount: shortText,
  costOfSalesAccount: shortText,
  revenueAccount: shortText,
  /** What its items take where nothing else is typed; a field that is not named comes from the group above. */
  defaults: z.record(z.string(), z.string()).default({}),
  /** How its items are planned where neither they nor their rules say it. */
  planning: ruleTexts.default({}),
});
/** A version where the record was there before. */
const seen = { version: version.optional() };

export const groundView = z.object({
  units: z.array(unit.extend({ version, items: z.number() })),
  calendars: z.array(calendar.extend({ version })),
  groups: z.array(group.extend({ version, items: z.number() })),
  accounts: z.array(choice),
  currencies: z.array(z.object({ code: z.string(), name: z.string(), rates: z.array(z.object({ date: z.string(), rate: z.string() })) })),
  customerGroups: z.array(z.object({ code: z.string(), name: z.string(), customers: z.number() })),
  /** `rate` is that of today, in percent; the first of `rates` holds from the beginning, where its day is empty. */
  taxCodes: z.array(
    z.object({ code: z.string(), name: z.string(), rate: z.string(), rates: z.array(z.object({ from: z.string(), rate: z.string() })) }),
  ),
  /** `words` says them as papers do. */
  paymentTerms: z.array(paymentTerm.extend({ version, words: z.string(), customers: z.number(), suppliers: z.number() })),
  fields: z.array(customField),
});
export type GroundView = z.output<typeof groundView>;

export const groundRoutes = {
  getGround: route({
    method: 'get',
    path: '/catalogue/ground',
    summary: 'Units, groups, calendars, currencies and own fields',
    right: 'catalogue.see',
    answer: groundView,
  }),
  saveUnit: route({
    method: 'put',
    path: '/catalogue/ground/units',
    summary: 'Add or change a unit',
    right: 'catalogue.edit',
    body: unit.extend(seen),
    answer: groundView,
  }),
  saveGroup: route({
    method: 'put',
    path: '/catalogue/ground/groups',
    summary: 'Add or change an item group; its items follow',
    right: 'catalogue.edit',
    body: group.extend(seen),
    answer: groundView.extend({ followed: z.number(), kept: z.array(z.string()) }),
  }),
  saveCalendar: route({
    method: 'put',
    path: '/catalogue/ground/calendars',
    summary: 'Add or change a calendar',
    right: 'catalogue.edit',
    body: calendar.extend(seen),
    answer: groundView,
  }),
  saveCurrency: route({
    method: 'put',
    path: '/catalogue/ground/currencies',
    summary: 'Add a currency, or its exchange rate of a day',
    right: 'catalogue.edit',
    body: z.object({
      code: z
        .string()
        .trim()
        .regex(/^[A-Z]{3}$/, 'Give three capital letters.'),
      /** That of one that is there stays, where nobody says another. */
      name: shortText.min(1, 'Give a name.').optional(),
      date: dateText.optional(),
      rate: decimalText.optional(),
    }),
    answer: groundView,
  }),
  saveCustomerGroup: route({
    method: 'put',
    path: '/catalogue/ground/customer-groups',
    summary: 'Add or rename a customer group',
    right: 'catalogue.edit',
    body: z.object({ code: shortText.min(1, 'Give a code.'), name: shortText.min(1, 'Give a name.') }),
    answer: groundView,
  }),
  saveTaxCode: route({
    method: 'put',
    path: '/catalogue/ground/tax-codes',
    summary: 'Add a tax code, rename it, or say what it takes from a day on',
    right: 'setup.edit',
    body: z.object({
      code: shortText.min(1, 'Give a code.'),
      name: shortText.min(1, 'Give a name.'),
      /** Percent; left out, the rates stay as they are. */
      rate: decimalText.optional(),
      /** The day from which it holds; today where none is said. A new code takes its first rate from the beginning. */
      from: dateText.optional(),
    }),
    answer: groundView,
  }),
  savePaymentTerm: route({
    method: 'put',
    path: '/catalogue/ground/payment-terms',
    summary: 'Add or change payment terms',
    right: 'setup.edit',
    body: paymentTerm.extend(seen),
    answer: groundView,
  }),
  saveField: route({
    method: 'put',
    path: '/catalogue/ground/fields',
    summary: 'Add or change a field of the company’s own',
    right: 'setup.edit',
    body: z.object({
      id: z.number().optional(),
      record: z.enum(customRecords),
      title: shortText.min(1, 'Give a title.').max(40),
      type: z.enum(customTypes),
      choices: z.array(shortText.min(1)).max(60).default([]),
      active: z.boolean().default(true),
      ...seen,
    }),
    answer: groundView,
  }),
  choices: route({
    method: 'get',
    path: '/catalogue/choices',
    summary: 'Everything short enough to choose from a list',
    right: 'signedIn',
    answer: z.object({
      warehouses: z.array(choice),
      bins: z.array(choice.extend({ warehouseId: z.number() })),
      customers: z.array(choice.extend({ onHold: z.boolean() })),
      suppliers: z.array(choice),
      groups: z.array(choice),
      units: z.array(choice),
      reasons: z.array(choice.extend({ noteNeeded: z.boolean() })),
      currencies: z.array(choice),
      customerGroups: z.array(choice),
      taxCodes: z.array(choice),
      /** The tax code that new customers begin with, where there is one. */
      houseTaxCode: z.string().nullable(),
      paymentTerms: z.array(choice),
      calendars: z.array(choice),
      priceLists: z.array(choice),
      /** Who works here; the code is what they sign in with. */
      people: z.array(choice),
      fields: z.array(customField),
    }),
  }),
  setUp: route({
    method: 'post',
    path: '/catalogue/ground',
    summary: 'Set up units, calendars, groups, warehouses, bins and reasons',
    right: 'setup.edit',
    body: z.object({
      units: z.array(unit),
      calendars: z.array(calendar),
      groups: z.array(group),
      warehouses: z.array(z.object({ code: shortText, name: shortText, calendar: shortText, bins: z.array(shortText).min(1), dock: shortText })),
      reasons: z.array(z.object({ code: shortText, name: shortText, account: shortText, noteNeeded: z.boolean() })),
      accounts: z.array(z.object({ code: shortText, name: shortText })),
      currencies: z.array(z.object({ code: shortText, name: shortText })).default([]),
      customerGroups: z.array(z.object({ code: shortText, name: shortText })).default([]),
      taxCodes: z.array(z.object({ code: shortText, name: shortText, rate: z.number().int().min(0).max(10_000) })).default([]),
      paymentTerms: z.array(paymentTerm.omit({ discount: true }).extend({ discount: z.number().int().min(0).max(10_000).default(0) })).default([]),
    }),
    answer: z.object({}),
  }),
};
