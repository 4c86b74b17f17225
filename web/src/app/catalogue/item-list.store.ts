/** Changes typed into the item list. */
import { signalStore } from '@ngrx/signals';
import { api, bulkFields, type BulkField } from '@terrace/contract';
import { divideRounded, parsePrice, readDecimal, toScale, writePrice } from '@terrace/core';
import { withListEdits } from '../ui/list-edits';

const PERCENT = /^([+-]\d+(?:\.\d+)?)\s*%$/;

function isBulk(field: string): field is BulkField {
  return (bulkFields as readonly string[]).includes(field);
}

/** A price raised or lowered by a percentage, or the text as it is. */
export function appliedTo(current: string, value: string): string {
  const [, percent] = PERCENT.exec(value.trim()) ?? [];
  if (percent === undefined) return value;
  const points = toScale(readDecimal(percent.replace('+', '')) ?? { mantissa: 0n, scale: 0 }, 2) ?? 0n;
  const cents = divideRounded(BigInt(parsePrice(current)) * (10_000n + points), 100_000_000n);
  return writePrice(Number(cents) * 10_000);
}

/** A percentage changes each price by it. */
export const ItemListStore = signalStore(
  withListEdits((client, changes) => {
    const known = changes.map((change) => ({
      ...change,
      fields: Object.fromEntries(Object.entries(change.fields).filter(([field]) => isBulk(field))),
    }));
    return client.call(api.catalogue.changeItems, { body: { changes: known } });
  }, appliedTo),
);
