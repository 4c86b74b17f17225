/** Parts of an order as they are put together by hand. */
import type { DivisionPreview } from '@terrace/contract';
import { QUANTITY_SCALE, parseQuantity, writeQuantity } from '@terrace/core';

export interface PartDraft {
  readonly warehouseId: number | null;
  readonly shipTo: string;
  readonly carrier: string;
  readonly lines: readonly { readonly lineId: number; readonly quantity: string }[];
}

/** What would be sent of parts that were looked at. */
export function draftOf({ parts }: DivisionPreview): PartDraft[] {
  return parts.map(({ warehouseId, shipTo, carrier, lines }) => ({
    warehouseId,
    shipTo,
    carrier,
    lines: lines.map(({ lineId, quantity }) => ({ lineId, quantity })),
  }));
}

const EMPTY: PartDraft = { warehouseId: null, shipTo: '', carrier: '', lines: [] };
const scaled = (text: string): number => parseQuantity(text === '' ? '0' : text, QUANTITY_SCALE);

function withMore(part: PartDraft, lineId: number, more: number): PartDraft {
  const had = part.lines.find((each) => each.lineId === lineId);
  const quantity = (had ? scaled(had.quantity) : 0) + more;
  const others = part.lines.filter((each) => each !== had);
  if (quantity === 0) return { ...part, lines: others };
  const line = { lineId, quantity: writeQuantity(quantity) };
  return { ...part, lines: had ? part.lines.map((each) => (each === had ? line : each)) : [...part.lines, line] };
}

/**
 * Parts after so much of a line has gone from one to another, at most all that the one has; `to` may be one more than there are. A
 * part that has nothing any more is gone, but for the first.
 */
export function moved(
  parts: readonly PartDraft[],
  { lineId, from, to, quantity }: { lineId: number; from: number; to: number; quantity: string },
): PartDraft[] {
  const has = parts[from]?.lines.find((each) => each.lineId === lineId);
  if (!has || from === to) return [...parts];
  const most = scaled(has.quantity);
  const asked = quantity.trim() === '' ? most : Math.min(most, Math.max(0, scaled(quantity)));
  const target = Math.min(to, parts.length);
  const all = target === parts.length ? [...parts, EMPTY] : [...parts];
  return all
    .map((part, index) => (index === from ? withMore(part, lineId, -asked) : index === target ? withMore(part, lineId, asked) : part))
    .filter((part, index) => index === 0 || part.lines.length > 0);
}
