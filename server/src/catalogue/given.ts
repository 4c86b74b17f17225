/** Values that a group may give: read from text, kept in the item's own columns. */
import { RULE_FIELDS, Refusal, readDecimal, toScale, writePoints, type Given } from '@terrace/core';
import { costings, itemKinds, trackings } from '@terrace/contract';
import type { Work } from '../platform/work';

const COLUMNS: Readonly<Record<Exclude<Given, 'planning'>, string>> = {
  kind: 'kind',
  unit: 'unit_code',
  tracking: 'tracking',
  costing: 'costing',
  discountCeiling: 'discount_ceiling',
  shelfLifeDays: 'shelf_life_days',
  restLifeDays: 'rest_life_days',
  storageOverhead: 'storage_overhead',
};
const WORDS: Readonly<Partial<Record<Given, readonly string[]>>> = { kind: itemKinds, tracking: trackings, costing: costings };
const PLANNING = /^(?:none|(buy|make) in (\S+?)(?:, (\d{1,3}) days)?)$/;

/** A share in percent as basis points, from 0 to 100. */
export function readPoints(text: string, what: string): number {
  const value = readDecimal(text);
  const points = value && toScale(value, 2);
  if (points === null || points < 0n || points > 10_000n)
    throw new Refusal('badShare', `${what} of ${text} % can't be: it is from 0 to 100, with two decimals at most.`);
  return Number(points);
}

function readDays(text: string, what: string): number {
  if (!/^\d{1,5}$/.test(text)) throw new Refusal('badDays', `${what} is a whole number of days, not "${text}".`);
  return Number(text);
}

/** Checks a value and gives it in its one form. Refuses what the field can't hold. */
export function readGiven(work: Work, field: Given, text: string): string {
  const words = WORDS[field];
  if (words && !words.includes(text)) throw new Refusal('unknownWord', `"${text}" is none of ${words.join(', ')}.`);
  if (field === 'unit' && !work.row('select 1 from unit where code = ?', text))
    throw new Refusal('unknownUnit', `There is no unit "${text}": choose one from the list.`, { field: 'unit' });
  if (field === 'discountCeiling') return writePoints(readPoints(text, 'A ceiling'));
  if (field === 'storageOverhead') return writePoints(readPoints(text, 'Storage overhead'));
  if (field === 'shelfLifeDays') return String(readDays(text, 'Shelf life'));
  if (field === 'restLifeDays') return String(readDays(text, 'Remaining life'));
  if (field === 'planning') {
    const [, , warehouse] = PLANNING.exec(text) ?? [];
    if (!PLANNING.test(text) || (warehouse !== undefined && !work.row('select 1 from warehouse where code = ?', warehouse)))
      throw new Refusal(
        'badPlanning',
        `"${text}" is no way to plan: write "buy in WORKS", "make in WORKS, 3 days" or "none", with a warehouse that there is.`,
      );
  }
  return text;
}

/** The value as its column keeps it. */
export function columnOf(field: Exclude<Given, 'planning'>, text: string | undefined): string | number | null {
  if (text === undefined) return field === 'storageOverhead' ? 0 : null;
  if (field === 'discountCeiling' || field === 'storageOverhead') return readPoints(text, 'It');
  if (field === 'shelfLifeDays' || field === 'restLifeDays') return Number(text);
  return text;
}

/** Puts a value into an item; says whether anything changed. */
export function storeGiven(work: Work, id: number, field: Given, text: string): boolean {
  if (field === 'planning') return planAs(work, id, text);
  const value = columnOf(field, text);
  return work.run(`update item set ${COLUMNS[field]} = ? where id = ? and ${COLUMNS[field]} is not ?`, value, id, value).changes > 0;
}

/** Plans an item as its group says; safety, minimum and multiple of a rule that is there stay. */
export function planAs(work: Work, id: number, text: string): boolean {
  const [, source, warehouse, days] = PLANNING.exec(text) ?? [];
  if (source === undefined || warehouse === undefined) return false;
  return (
    work.run(
      `insert into planning_rule (item_id, warehouse_id, source, lead_days, safety, minimum, multiple, slack_days, follows)
         select ?, id, ?, ?, 0, 0, 0, 2, ? from warehouse where code = ?
       on conflict (item_id, warehouse_id) do update set source = excluded.source, lead_days = excluded.lead_days, version = version + 1
         where source <> excluded.source or lead_days <> excluded.lead_days`,
      id,
      source,
      Number(days ?? 0),
      JSON.stringify(RULE_FIELDS.filter((field) => field !== 'leadDays' || days === undefined)),
      warehouse,
    ).changes > 0
  );
}
