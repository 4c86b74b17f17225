/** How what is suggested differs from before, and because of what. */
import { dayWords } from '@terrace/core';
import type { Cause, PlanToWrite } from './plan-to-write';
import type { Source } from '../platform/query';
import { adding } from '../platform/rows';
import { difference } from './plan-schema';

/** A suggestion as far as it is compared. */
export interface Before {
  readonly name: string;
  readonly kind: string;
  readonly quantity: string;
  readonly due: string;
}

const insert = adding(difference);

/** Tells how a node's suggestions differ from before; those alike in quantity and day are the same. */
export function writeDifference(
  file: Source,
  plan: PlanToWrite,
  node: number,
  seq: number,
  old: readonly Before[],
  fresh: readonly Before[],
): number {
  const same = (a: Before, b: Before): boolean => a.kind === b.kind && a.quantity === b.quantity && a.due === b.due;
  const left = [...old];
  const added: Before[] = [];
  for (const each of fresh) {
    const at = left.findIndex((one) => same(one, each));
    if (at < 0) added.push(each);
    else left.splice(at, 1);
  }
  if (left.length === 0 && added.length === 0) return 0;
  const { book } = plan.live;
  const item = plan.items.get(book.itemCodes[book.itemOf(node)] ?? '');
  const warehouse = book.warehouseCodes[book.warehouseOf(node)] ?? '';
  const words = (row: Before | undefined): string => (row ? `${row.quantity} ${item?.unit ?? ''} due ${dayWords(row.due)}` : '');
  const count = Math.max(left.length, added.length);
  for (let index = 0; index < count; index += 1) {
    const [from, to] = [left[index], added[index]];
    const change = !from ? 'new' : !to ? 'gone' : from.due === to.due ? 'changed' : 'moved';
    insert.run(file, {
      seq,
      at: plan.at,
      itemId: item?.id ?? 0,
      warehouseId: plan.places.get(warehouse) ?? 0,
      code: item?.code ?? '',
      description: item?.description ?? '',
      warehouse,
      kind: (to ?? from)?.kind ?? '',
      change,
      before: words(from),
      after: words(to),
      cause: causeOf(plan.causes, node),
    });
  }
  return count;
}

/** What touched a node itself; where nothing did, what happened, since that called for it. */
function causeOf(causes: readonly Cause[], node: number): string {
  const own = causes.filter((each) => each.nodes.has(node));
  const said = [...new Set((own.length > 0 ? own : causes).map((each) => each.words))];
  return said.slice(0, 3).join('; ') + (said.length > 3 ? ` and ${said.length - 3} more` : '');
}
