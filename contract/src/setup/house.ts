/** Ways of the house: the company itself, its numbering, reasons and accounts. */
import { z } from 'zod';
import type { ControlUse } from '@terrace/core';
import { route } from '../base/route';
import { shortText, version } from '../base/schemas';

const house = z.object({
  company: z.string(),
  address: z.string(),
  /** At the foot of every page, such as bank and register. */
  foot: z.string(),
  /** ISO 4217: the books are kept in it. */
  currency: z.string(),
  /** Why the currency can't be changed any more; empty where it can. */
  currencyStays: z.string(),
  /** IANA name; says when a day begins. */
  timeZone: z.string(),
  /** Whether papers have a picture at their head. */
  logo: z.boolean(),
  version,
});
export type House = z.output<typeof house>;

const numbering = z.object({
  /** Names the kind of document: `CO`, `INV`, … */
  kind: z.string(),
  title: z.string(),
  prefix: z.string(),
  /** Figures at least. */
  width: z.number().int(),
  /** Whether numbers begin anew each year. */
  byYear: z.boolean(),
  /** The running number that comes next. */
  next: z.number().int(),
  /** The number that comes next, whole. */
  example: z.string(),
});
export type NumberingView = z.output<typeof numbering>;
const numberingView = z.object({ numbering: z.array(numbering) });

const reason = z.object({
  code: z.string(),
  name: z.string(),
  account: z.string(),
  noteNeeded: z.boolean(),
  active: z.boolean(),
  /** Adjustments that have it. */
  uses: z.number().int(),
  version,
});
const account = z.object({
  code: z.string(),
  name: z.string(),
  /** What is posted on it by itself, in words; empty where only what names it is. */
  use: z.string(),
  /** Lines of the journal. */
  lines: z.number().int(),
});
const controlUses = [
  'receivables',
  'bank',
  'wip',
  'grni',
  'salesTax',
  'opening',
  'costDifference',
  'revaluation',
  'productionVariance',
  'lateCosts',
  'advances',
  'earlyDiscount',
  'exchangeGains',
  'exchangeLosses',
  'cash',
  'cashDifference',
] as const satisfies readonly ControlUse[];
const accountUse = z.object({
  use: z.enum(controlUses),
  /** What is posted there by itself, in words. */
  title: z.string(),
  account: z.string(),
  /** Why it can’t be another any more; empty where it can. */
  stays: z.string(),
});
const accountsView = z.object({ accounts: z.array(account), uses: z.array(accountUse), reasons: z.array(reason) });
export type AccountsView = z.output<typeof accountsView>;
const codeText = z.string().trim().min(1, 'Give a code.').max(20, 'A code has at most 20 characters.');

export const houseRoutes = {
  house: route({ method: 'get', path: '/setup/house', summary: 'The company and its letterhead', right: 'setup.see', answer: house }),
  saveHouse: route({
    method: 'put',
    path: '/setup/house',
    summary: 'Change the company and its letterhead',
    right: 'setup.edit',
    body: z.object({
      company: shortText.min(1, 'Give the name of the company.').max(120),
      address: z.string().trim().max(400, 'An address has at most 400 characters.'),
      foot: z.string().trim().max(300, 'The foot of a page has at most 300 characters.'),
      currency: z.string().regex(/^[A-Z]{3}$/, 'Give three capital letters.'),
      timeZone: z.string().max(60),
      version,
    }),
    answer: house,
  }),
  dropLogo: route({ method: 'delete', path: '/setup/logo', summary: 'Papers without a picture at their head', right: 'setup.edit', answer: house }),
  numbering: route({ method: 'get', path: '/setup/numbering', summary: 'How documents are numbered', right: 'setup.see', answer: numberingView }),
  saveNumbering: route({
    method: 'put',
    path: '/setup/numbering',
    summary: 'Change how a kind of document is numbered; no number is given twice',
    right: 'setup.edit',
    body: z.object({
      kind: z.string().max(8),
      prefix: z
        .string()
        .trim()
        .regex(/^[A-Z][A-Z0-9]{0,7}$/, 'A prefix is one to eight capital letters and figures, a letter first.'),
      width: z.number().int().min(1, 'One figure at least.').max(9, 'Nine figures at most.'),
      byYear: z.boolean(),
      next: z.number().int().min(1, 'Numbers begin at 1.').max(999_999_999, 'That is too large a number.'),
    }),
    answer: numberingView,
  }),
  accounts: route({
    method: 'get',
    path: '/setup/accounts',
    summary: 'Accounts and reasons, with what uses them',
    right: 'setup.see',
    answer: accountsView,
  }),
  saveAccount: route({
    method: 'put',
    path: '/setup/accounts',
    summary: 'Add or rename an account',
    right: 'setup.edit',
    body: z.object({ code: codeText, name: shortText.min(1, 'Give a name.') }),
    answer: accountsView,
  }),
  saveAccountUse: route({
    method: 'put',
    path: '/setup/account-uses',
    summary: 'Say on which account something is posted by itself; not once something is',
    right: 'setup.edit',
    body: z.object({ use: z.enum(controlUses), account: codeText }),
    answer: accountsView,
  }),
  saveReason: route({
    method: 'put',
    path: '/setup/reasons',
    summary: 'Add or change a reason to adjust stock',
    right: 'setup.edit',
    body: z.object({
      code: codeText,
      name: shortText.min(1, 'Give a name.'),
      account: codeText,
      noteNeeded: z.boolean(),
      active: z.boolean(),
      version: version.optional(),
    }),
    answer: accountsView,
  }),
};
