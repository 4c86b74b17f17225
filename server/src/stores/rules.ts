/** What an item asks of its lots and serial numbers. */
import type { api } from '@terrace/contract';
import type { AnswerOf, BodyOf } from '@terrace/contract';
import { makeSerials } from '@terrace/core';
import { itemFacts } from '../catalogue';
import { assertSeen, atField, changesBetween, type Work } from '../platform/work';
import { trackingOf } from './tracked';

type Rule = AnswerOf<typeof api.stores.trackingRule>;

const versionOf = (work: Work, item: number): number | undefined =>
  work.row<{ version: number }>('select version from tracking_rule where item_id = ?', item)?.version;

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
  work.run(
    `insert into tracking_rule (item_id, expiry_needed, made_on_needed, use_life_days, warn_days, serial_pattern, warranty_months) values (?, ?, ?, ?, ?, ?, ?)
     on conflict (item_id) do update set expiry_needed = excluded.expiry_needed, made_on_needed = excluded.made_on_needed, use_life_days = excluded.use_life_days,
       warn_days = excluded.warn_days, serial_pattern = excluded.serial_pattern, warranty_months = excluded.warranty_months, version = version + 1`,
    item,
    Number(input.expiryNeeded),
    Number(input.madeOnNeeded),
    input.useLifeDays,
    input.warnDays,
    input.serialPattern,
    input.warrantyMonths,
  );
  if (input.warnDays !== before.warnDays) work.run('update lot set warned = null where item_id = ?', item);
  const after = trackingRuleOf(work, item);
  work.record(
    'item',
    item,
    `set what ${code} asks of its lots and serial numbers`,
    changesBetween({ ...before, version: '' }, { ...after, version: '' }),
  );
  return after;
}
