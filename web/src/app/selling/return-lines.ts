/** What is taken in of a return, or decided on: how many of each line. */
import type { ReturnView } from '@terrace/contract';
import { QUANTITY_SCALE, awaited, parseQuantity, undecided, writeQuantity, type Quantity } from '@terrace/core';

export type ReturnLine = ReturnView['lines'][number];

const progress = ({ quantity, received, decided }: ReturnLine) => ({
  quantity: parseQuantity(quantity, QUANTITY_SCALE),
  received: parseQuantity(received, QUANTITY_SCALE),
  decided: parseQuantity(decided, QUANTITY_SCALE),
});

/** What of a line is still to come, and what waits to be decided on. */
export function toCome(line: ReturnLine): Quantity {
  return awaited(progress(line));
}
export function toDecide(line: ReturnLine): Quantity {
  return undecided(progress(line));
}

/** By the line's id: all that there is of it, as it is typed. */
export function allOf(lines: readonly ReturnLine[], of: (line: ReturnLine) => Quantity): Readonly<Record<string, string>> {
  return Object.fromEntries(lines.map((line) => [line.id, of(line) === 0 ? '' : writeQuantity(of(line))]));
}

/** What is sent of it: the lines of which there is something. */
export function sentOf(
  lines: readonly ReturnLine[],
  quantities: Readonly<Record<string, string>>,
  of: (line: ReturnLine) => Quantity,
): { lineId: number; quantity: string }[] {
  return lines.flatMap((line) => {
    const quantity = (quantities[line.id] ?? '').trim();
    return of(line) === 0 || quantity === '' || quantity === '0' ? [] : [{ lineId: line.id, quantity }];
  });
}
