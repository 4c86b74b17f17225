/** What an item asks of its lots and serial numbers. */
import type { api } from '@terrace/contract';
import type { AnswerOf, BodyOf } from '@terrace/contract';
import { eq } from 'drizzle-orm';
import { makeSerials } from '@terrace/core';
import { itemFacts } from '../catalogue';
import { atField } from '../platform/fields';
import { command, query } from '../platform/query';
import { keepRow } from '../platform/rows';
import { assertSeen, changesBetween } from '../platform/versions';
import type { Work } from '../platform/work';
import { trackingOf } from './tracking';
import { lot, trackingRule } from './tracking-schema';

type Rule = AnswerOf<typeof api.stores.trackingRule>;

const kept = query(
  ($: { itemId: number }) => (db) => db.select({ version: trackingRule.version }).from(trackingRule).where(eq(trackingRule.itemId, $.itemId)),
);
const versionOf = (work: Work, itemId: number): number | undefined => kept.one(work, { itemId })?.version;
const warnAnew = command(($: { itemId: number }) => (db) => db.update(lot).set({ warned: null }).where(eq(lot.itemId, $.itemId)));

/** Version 0 means that nothing was ever set. */
export function trackingRuleOf(work: Work, item: number): Rule {
  const { expiryNeeded, madeOnNeeded, useLife, warnDays, serialPattern, warrantyMonths } = trackingOf(work, item);
  return { expiryNeeded, madeOnNeeded, useLifeDays: useLife, warnDays, serialPattern, warrantyMonths, version: versionOf(work, item) ?? 0 };
}

export function setTrackingRule(work: Work, item: number, input: BodyOf<typeof api.stores.setTrackingRule>): Rule {
  const { code } = itemFacts(work, item);
  const version = versionOf(work, item);
  assertSeen(version === undefined ? undefined : { version }, input.version, `What ${code} asks of its lots and serial numbers`);
  if (input.serialPattern !== '') atField('serialPattern', () => makeSerials(input.serialPattern, work.today, 1, 1));
  const before = trackingRuleOf(work, item);
  const { expiryNeeded, madeOnNeeded, useLifeDays, warnDays, serialPattern, warrantyMonths } = input;
  keepRow(work, trackingRule, ['itemId'], { itemId: item, expiryNeeded, madeOnNeeded, useLifeDays, warnDays, serialPattern, warrantyMonths });
  if (input.warnDays !== before.warnDays) warnAnew.run(work, { itemId: item });
  const after = trackingRuleOf(work, item);
  work.record(
    'item',
    item,
    `set what ${code} asks of its lots and serial numbers`,
    changesBetween({ ...before, version: '' }, { ...after, version: '' }),
  );
  return after;
}
