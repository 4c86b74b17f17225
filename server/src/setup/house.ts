/** Ways of the house: the company itself, its letterhead, numbering, reasons and accounts. */
import { eq, sql } from 'drizzle-orm';
import type { AccountsView, BodyOf, House, HouseRules, HouseRulesView, NumberingView, api } from '@terrace/contract';
import { Refusal, documentNumber, pictureSize, stemOf, writeAmount, writePoints, type ControlUse } from '@terrace/core';
import { account, accountName, accountUses, journalEntry, journalLine, openAccount, useAccount, whyUseStays } from '../accounts';
import { currency, reason } from '../catalogue';
import { countOf } from '../platform/expressions';
import { atField } from '../platform/fields';
import { HOUSE_RULES_KEY, houseRules } from '../platform/house-rules';
import { nextRunning, numberingOf, hadBy } from '../platform/numbering';
import { query } from '../platform/query';
import { addRowOnce, keepRow } from '../platform/rows';
import { numbering, sequence } from '../platform/schema';
import { companyOf, currencyOf, dropSetting, keepSetting, settingOf } from '../platform/settings';
import { assertSeen, changesBetween } from '../platform/versions';
import type { Work } from '../platform/work';
import { adjustment } from '../stores';
import { assertTimeZone } from './founding';

const VERSION = 'houseVersion';
const anyEntry = query(() => (db) => db.select({ number: journalEntry.documentNumber }).from(journalEntry).limit(1));
const isCurrency = query(($: { code: string }) => (db) => db.select({ code: currency.code }).from(currency).where(eq(currency.code, $.code)));

/** Why the currency of the books stays; nothing where it can be changed. */
function whyStays(work: Work): string {
  const posted = anyEntry.one(work);
  return posted ? `${posted.number} is posted in ${currencyOf(work.store)}: what is in the books can’t be in another currency.` : '';
}

export function house(work: Work): House {
  const { store } = work;
  return {
    company: companyOf(store),
    address: settingOf(store, 'address') ?? '',
    foot: settingOf(store, 'foot') ?? '',
    currency: currencyOf(store),
    currencyStays: whyStays(work),
    timeZone: settingOf(store, 'timeZone') ?? Intl.DateTimeFormat().resolvedOptions().timeZone,
    logo: settingOf(store, 'logo') !== null,
    version: Number(settingOf(store, VERSION) ?? '0'),
  };
}

function moveOn(work: Work, before: House): void {
  keepSetting(work.store, VERSION, String(before.version + 1));
}

/** Changes the company. Refuses `staleVersion`, `booksBegun`, `unknownTimeZone`. */
export function saveHouse(work: Work, { version, ...input }: BodyOf<typeof api.setup.saveHouse>): void {
  const before = house(work);
  assertSeen(before, version, 'The company');
  if (input.currency !== before.currency && before.currencyStays !== '') throw new Refusal('booksBegun', before.currencyStays, { field: 'currency' });
  assertTimeZone(input.timeZone);
  if (input.currency !== before.currency && !isCurrency.one(work, { code: input.currency }))
    addRowOnce(work, currency, { code: input.currency, name: input.currency });
  for (const key of ['company', 'address', 'foot', 'currency', 'timeZone'] as const) keepSetting(work.store, key, input[key]);
  moveOn(work, before);
  const was = { company: before.company, address: before.address, foot: before.foot, currency: before.currency, timeZone: before.timeZone };
  work.record('setup', 0, 'changed the company', changesBetween(was, input));
}

const MOST_PIXELS = 2000;

/** Puts a picture at the head of papers: PNG or JPEG. Refuses `notWhatItSays`, `tooLarge`. */
export function keepLogo(work: Work, content: Buffer): void {
  const size = pictureSize(content);
  const field = { field: 'file' };
  if (!size) throw new Refusal('notWhatItSays', 'This is no PNG or JPEG picture: save it as one from the program that made it.', field);
  if (size.width > MOST_PIXELS || size.height > MOST_PIXELS || size.width < 1 || size.height < 1)
    throw new Refusal(
      'tooLarge',
      `The picture has ${size.width} by ${size.height} pixels: at most ${MOST_PIXELS} by ${MOST_PIXELS} fit on a paper.`,
      field,
    );
  keepSetting(work.store, 'logo', `data:image/${size.type};base64,${content.toString('base64')}`);
  moveOn(work, house(work));
  work.record('setup', 0, 'changed the picture on papers');
}

export function dropLogo(work: Work): void {
  dropSetting(work.store, 'logo');
  moveOn(work, house(work));
  work.record('setup', 0, 'took the picture off papers');
}

/** Kinds of documents by the prefix that is proposed for them. */
const KINDS: Readonly<Record<string, string>> = {
  CO: 'Customer orders',
  QU: 'Quotes',
  BO: 'Blanket orders',
  SH: 'Shipments',
  RET: 'Customers’ returns',
  CS: 'Sales over the counter',
  IN: 'Orders from outside',
  DR: 'Cash drawers',
  INV: 'Invoices',
  CR: 'Credit notes',
  PAY: 'Payments',
  PO: 'Purchase orders',
  RC: 'Receipts',
  LC: 'Late costs',
  PRD: 'Production orders',
  FIN: 'Finished production',
  TR: 'Transfers',
  ADJ: 'Adjustments',
  MV: 'Moves',
  RV: 'Changes of standard costs',
  AC: 'Changes of accounts',
  FP: 'Kept suggestions',
  IM: 'Imports',
};

function viewOf(work: Work, kind: string, title: string): NumberingView {
  const how = numberingOf(work, kind);
  const next = nextRunning(work, how, work.today);
  return { kind, title, ...how, next, example: documentNumber(stemOf(how, work.today), next, how.width) };
}

export function numberingView(work: Work): { numbering: NumberingView[] } {
  return { numbering: Object.entries(KINDS).map(([kind, title]) => viewOf(work, kind, title)) };
}

/** Changes how a kind of document is numbered. Refuses `notFound`, `prefixTaken`, and `numberTaken` where a number could come twice. */
export function saveNumbering(work: Work, { kind, next, ...how }: BodyOf<typeof api.setup.saveNumbering>): void {
  const title = Object.hasOwn(KINDS, kind) ? KINDS[kind] : undefined;
  if (title === undefined) throw new Refusal('notFound', `There is no kind of document ${kind}.`, { field: 'kind' });
  const { prefix } = how;
  const other = Object.keys(KINDS).find((each) => each !== kind && numberingOf(work, each).prefix === prefix) ?? hadBy(work, kind, prefix);
  if (other !== undefined)
    throw new Refusal('prefixTaken', `${KINDS[other] ?? other} have the prefix ${prefix} already: each kind has its own.`, {
      field: 'prefix',
    });
  const before = viewOf(work, kind, title);
  const least = nextRunning(work, how, work.today);
  const began = before.prefix === prefix && before.byYear === how.byYear;
  // Where nothing has been numbered so yet, it may begin anywhere.
  const stem = stemOf(how, work.today);
  const used = usedOf.one(work, { stem });
  if (used && next < used.next)
    throw new Refusal('numberTaken', `${documentNumber(stem, used.next - 1, how.width)} is given already: the next is ${used.next} at least.`, {
      field: 'next',
    });
  keepRow(work, numbering, ['kind'], { kind, ...how });
  if (next !== least) keepRow(work, sequence, ['prefix'], { prefix: stem, kind, next });
  const after = viewOf(work, kind, title);
  const changes = changesBetween(
    { example: before.example, byYear: before.byYear, width: before.width },
    { example: after.example, byYear: how.byYear, width: how.width },
  );
  if (changes.length > 0) work.record('setup', 0, `${title} are numbered from ${after.example}${began ? '' : ' on'}`, changes);
}

const usedOf = query(($: { stem: string }) => (db) => db.select({ next: sequence.next }).from(sequence).where(eq(sequence.prefix, $.stem)));

/** What is posted on accounts by itself, in words. */
const USES: Readonly<Record<ControlUse, string>> = {
  receivables: 'What customers owe',
  bank: 'Payments',
  wip: 'Work in process',
  grni: 'Goods received and not invoiced',
  salesTax: 'Tax on sales',
  opening: 'Opening balances',
  costDifference: 'Differences of cost',
  revaluation: 'Changes of standard costs',
  productionVariance: 'Variance of production',
  lateCosts: 'Late costs to be invoiced',
  advances: 'What customers paid ahead',
  earlyDiscount: 'Let off for early payment',
  exchangeGains: 'Gains by exchange rates',
  exchangeLosses: 'Losses by exchange rates',
  cash: 'Cash in drawers',
  cashDifference: 'Cash over and short',
};

const everyAccount = query(
  () => (db) =>
    db
      .select({ code: account.code, name: account.name, lines: countOf(journalLine, eq(journalLine.account, account.code)) })
      .from(account)
      .orderBy(account.code),
);
const everyReason = query(
  () => (db) =>
    db
      .select({
        code: reason.code,
        name: reason.name,
        account: reason.account,
        noteNeeded: reason.noteNeeded,
        active: reason.active,
        uses: countOf(adjustment, eq(adjustment.reason, reason.code)),
        version: reason.version,
      })
      .from(reason)
      .orderBy(reason.code),
);
const reasonBy = query(
  ($: { code: string }) => (db) =>
    db
      .select()
      .from(reason)
      .where(sql`lower(${reason.code}) = lower(${$.code})`),
);

export function accountsView(work: Work): AccountsView {
  const uses = Object.entries(accountUses(work)) as [ControlUse, string][];
  const usedFor = new Map(uses.map(([use, code]) => [code, USES[use]]));
  return {
    accounts: everyAccount.all(work).map((each) => ({ ...each, use: usedFor.get(each.code) ?? '' })),
    uses: uses.map(([use, code]) => ({ use, title: USES[use], account: code, stays: whyUseStays(work, use) })),
    reasons: everyReason.all(work),
  };
}

/** Says on which account something is posted by itself. */
export function saveAccountUse(work: Work, { use, account: code }: BodyOf<typeof api.setup.saveAccountUse>): void {
  const before = accountUses(work)[use];
  useAccount(work, use, code);
  if (before !== code) work.record('setup', 0, `${USES[use]} are posted on ${code}`, changesBetween({ account: before }, { account: code }));
}

const RULES_VERSION = 'houseRulesVersion';

export function rulesView(work: Work): HouseRulesView {
  return { ...houseRules(work.store), version: Number(settingOf(work.store, RULES_VERSION) ?? '0') };
}

/** A rule as the history says it. */
function ruleWords({
  overDelivery,
  underDelivery,
  priceDifference,
  approvedUpTo,
  ownApproval,
  reserve,
  reserveDays,
}: HouseRules): Record<string, string> {
  return {
    overDelivery: `${writePoints(overDelivery)} %`,
    underDelivery: `${writePoints(underDelivery)} %`,
    priceDifference: `${writePoints(priceDifference)} %`,
    approvedUpTo: approvedUpTo === null ? 'nothing' : writeAmount(approvedUpTo),
    ownApproval: ownApproval ? 'yes' : 'no',
    reserve: reserve === 'soon' ? `${reserveDays} days before` : reserve,
  };
}

/** Decides on tolerances, approval and reservation. Refuses `staleVersion`. */
export function saveRules(work: Work, { version, ...rules }: BodyOf<typeof api.setup.saveHouseRules>): void {
  const before = rulesView(work);
  assertSeen(before, version, 'The rules');
  keepSetting(work.store, HOUSE_RULES_KEY, JSON.stringify(rules));
  keepSetting(work.store, RULES_VERSION, String(before.version + 1));
  work.record('setup', 0, 'changed the rules of the house', changesBetween(ruleWords(before), ruleWords(rules)));
}

/** Adds or renames an account. */
export function saveAccount(work: Work, { code, name }: BodyOf<typeof api.setup.saveAccount>): void {
  const before = accountName(work, code);
  if (before === null) openAccount(work, code, name);
  else keepRow(work, account, ['code'], { code, name });
  work.record('setup', 0, before === null ? `opened account ${code}` : `renamed account ${code}`, changesBetween({ name: before ?? '' }, { name }));
}

/** Adds or changes a reason. Refuses `staleVersion`, `unknownAccount`, `alreadyThere`. */
export function saveReason(work: Work, { version, ...input }: BodyOf<typeof api.setup.saveReason>): void {
  const before = reasonBy.one(work, { code: input.code });
  if (before && before.code !== input.code) throw new Refusal('alreadyThere', `There is a reason ${before.code} already.`, { field: 'code' });
  assertSeen(before, version, `The reason ${input.code}`);
  atField('account', () => {
    if (accountName(work, input.account) === null) throw new Refusal('unknownAccount', `There is no account "${input.account}": open it first.`);
  });
  keepRow(work, reason, ['code'], input);
  const { version: _version, ...was } = before ?? { version: 0, code: input.code };
  work.record('setup', 0, `${before ? 'changed' : 'added'} reason ${input.code}`, changesBetween(was, input));
}
