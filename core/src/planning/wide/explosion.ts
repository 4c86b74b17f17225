/** What a made suggestion calls for: its BOM lines valid on the day it starts, phantoms replaced by their own lines. */
import { divideUp, readDecimal, toScale, writeDecimal, type Day, type Decimal } from '../../base';
import type { PlanProblem } from '../problem';
import type { PlanBomLine, PlanInput, PlanItem } from '../input';
import { nodeKey, readRows } from '../rows';

export interface Call {
  readonly component: PlanItem;
  readonly quantity: bigint;
  readonly offsetDays: number;
}

/** A product of decimals on the way down, kept exact until the end. */
interface Path {
  readonly mantissa: bigint;
  readonly scale: number;
  readonly offsetDays: number;
}

/** All calls of `quantity` (units of the item's decimals) of an item started on `start` in a warehouse. */
export function explode(input: PlanInput, item: PlanItem, warehouse: string, quantity: bigint, start: Day, cyclic: ReadonlySet<string>): Call[] {
  const calls: Call[] = [];
  const walk = (parent: PlanItem, path: Path): void => {
    if (parent.bom.length === 0) {
      input.problems.add('noBom', nodeKey(parent.code, warehouse), `${parent.code} is to be made in ${warehouse}, but has no bill of materials.`);
      return;
    }
    for (const line of parent.bom) {
      if (!isValidOn(line, start)) continue;
      const component = input.items.get(line.component);
      if (!component || cyclic.has(nodeKey(component.code, warehouse))) continue;
      const next = follow(path, line);
      if (component.phantom) walk(component, next);
      else calls.push({ component, quantity: roundUp(next, component.decimals), offsetDays: next.offsetDays });
    }
  };
  walk(item, { mantissa: quantity, scale: item.decimals, offsetDays: 0 });
  return calls;
}

function isValidOn(line: PlanBomLine, day: Day): boolean {
  return (line.from === null || line.from <= day) && (line.to === null || day <= line.to);
}

function follow(path: Path, line: PlanBomLine): Path {
  const scrapped = onePlus(line.scrap);
  return {
    mantissa: path.mantissa * line.quantity.mantissa * scrapped.mantissa,
    scale: path.scale + line.quantity.scale + scrapped.scale,
    offsetDays: path.offsetDays + line.offsetDays,
  };
}

function onePlus(share: Decimal): Decimal {
  return { mantissa: 10n ** BigInt(share.scale) + share.mantissa, scale: share.scale };
}

function roundUp(path: Path, decimals: number): bigint {
  if (path.scale <= decimals) return path.mantissa * 10n ** BigInt(decimals - path.scale);
  return divideUp(path.mantissa, 10n ** BigInt(path.scale - decimals));
}

/** What making a quantity of one item calls for on a day, phantoms passed through; a line for each path. */
export function planExplosion(
  rows: Pick<PlanProblem, 'items' | 'boms'>,
  item: string,
  quantity: string,
  start: string,
): { readonly component: string; readonly quantity: string; readonly offsetDays: number }[] {
  const input = readRows({
    ...rows,
    today: start,
    horizon: start,
    calendars: [],
    warehouses: [],
    rules: [],
    stock: [],
    receipts: [],
    demands: [],
  });
  const parent = input.items.get(item);
  const wanted = readDecimal(quantity);
  const units = parent && wanted && toScale(wanted, parent.decimals);
  if (units === undefined || units === null || !parent) return [];
  return explode(input, parent, '', units, input.today, new Set()).map((call) => ({
    component: call.component.code,
    quantity: writeDecimal(call.quantity, call.component.decimals),
    offsetDays: call.offsetDays,
  }));
}
