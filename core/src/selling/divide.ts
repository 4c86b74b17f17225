/** Dividing an order into several without loss: what goes together, and what each part is worth. */
import { asAmount, asQuantity, extend, leastQuantity, shareOf, splitByWeights, type Amount, type Quantity } from '../base';
import { amountOfLine, charged, isGoods, standing, type ChargedLine, type SoldKind, type Totals, type Worth } from './order';

/** Why lines of an order go apart. */
export const divideReasons = ['short', 'warehouse', 'address', 'carrier', 'direct', 'services', 'lotLife'] as const;
export type DivideReason = (typeof divideReasons)[number];

/** A line as far as dividing looks at it; quantities in 10⁻⁵ units. */
export interface LineToDivide {
  readonly id: number;
  readonly kind: SoldKind;
  /** What can still go elsewhere: neither shipped nor on a shipment. */
  readonly open: Quantity;
  readonly reserved: Quantity;
  /** What is free of it in other warehouses, the most first. */
  readonly elsewhere: readonly { readonly warehouseId: number; readonly free: Quantity }[];
  readonly shipTo: string;
  readonly carrier: string;
  /** Whether the supplier ships it. */
  readonly direct: boolean;
  /** Whether what is reserved of it does not last until all of the order is ready. */
  readonly perishes: boolean;
}

/** What goes together, and why it does. */
export interface ProposedPart {
  /** `null` for the order's own. */
  readonly warehouseId: number | null;
  readonly shipTo: string;
  readonly carrier: string;
  readonly why: readonly DivideReason[];
  readonly lines: readonly { readonly lineId: number; readonly quantity: Quantity }[];
}

interface Piece extends Omit<ProposedPart, 'lines'> {
  readonly lineId: number;
  readonly quantity: Quantity;
}

/** The pieces of one line that go different ways. */
function piecesOf(line: LineToDivide, reasons: ReadonlySet<DivideReason>): Piece[] {
  const why: DivideReason[] = [];
  const by = (reason: DivideReason, holds: boolean): boolean => {
    if (holds && reasons.has(reason)) why.push(reason);
    return holds && reasons.has(reason);
  };
  const shipTo = by('address', line.shipTo !== '') ? line.shipTo : '';
  const carrier = by('carrier', line.carrier !== '') ? line.carrier : '';
  const common = { warehouseId: null, shipTo, carrier, lineId: line.id };
  if (by('direct', line.direct) || by('services', line.kind === 'service')) return [{ ...common, why, quantity: line.open }];
  if (line.kind !== 'stocked' || line.direct) return [{ ...common, why, quantity: line.open }];
  const ready = leastQuantity(line.reserved, line.open);
  const perishes = line.perishes && reasons.has('lotLife');
  const pieces: Piece[] = [{ ...common, why: perishes ? [...why, 'lotLife'] : why, quantity: ready }];
  let short = line.open - ready;
  if (reasons.has('warehouse'))
    for (const { warehouseId, free } of line.elsewhere) {
      const quantity = leastQuantity(asQuantity(short), free);
      if (quantity > 0) pieces.push({ ...common, warehouseId, why: [...why, 'warehouse'], quantity });
      short -= quantity;
    }
  pieces.push({ ...common, why: reasons.has('short') ? [...why, 'short'] : why, quantity: asQuantity(short) });
  return pieces.filter(({ quantity }) => quantity > 0);
}

/**
 * What of an order goes together by reasons that somebody chose, the part that stays first: what can't go with the rest by one of
 * the reasons is a part of its own, and what goes apart for the same reasons the same way is one part. Charges stay with the first, and so do
 * services, unless they are to go apart.
 * No line is lost: over all parts each has its open quantity. Where all would go apart the first of the parts stays.
 *
 * @example one line of 10 with 6 reserved, by `short`: 6 stay, 4 follow; by nothing: one part with 10.
 */
export function partsBy(lines: readonly LineToDivide[], reasons: readonly DivideReason[]): ProposedPart[] {
  const chosen = new Set(reasons);
  const parts = new Map<string, Omit<ProposedPart, 'lines'> & { lines: { lineId: number; quantity: Quantity }[] }>();
  const goesItsWay = ({ kind }: LineToDivide): boolean => isGoods(kind) || (kind === 'service' && chosen.has('services'));
  const open = lines.filter((line) => line.open > 0);
  for (const { lineId, quantity, ...piece } of open.filter(goesItsWay).flatMap((line) => piecesOf(line, chosen))) {
    const key = JSON.stringify([piece.warehouseId, piece.shipTo, piece.carrier, [...piece.why].sort()]);
    const part = parts.get(key) ?? { ...piece, lines: [] };
    parts.set(key, part);
    const before = part.lines.find((each) => each.lineId === lineId);
    if (before) before.quantity = asQuantity(before.quantity + quantity);
    else part.lines.push({ lineId, quantity });
  }
  // What needs no reason to go apart stays.
  const [first, ...others] = [...parts.values()].sort((a, b) => Number(a.why.length > 0) - Number(b.why.length > 0));
  const along = open.filter((line) => !goesItsWay(line)).map((line) => ({ lineId: line.id, quantity: line.open }));
  if (!first) return along.length > 0 ? [{ warehouseId: null, shipTo: '', carrier: '', why: [], lines: along }] : [];
  return [{ ...first, lines: [...first.lines, ...along] }, ...others];
}

/** A line that is divided, with what stands on it already. */
export interface DividedLine extends ChargedLine, Omit<Worth, 'quantity'> {
  /** The smallest piece of its unit, in 10⁻⁵ units. */
  readonly step: Quantity;
}

/** What one part has of a line. */
export interface LineShare {
  readonly quantity: Quantity;
  /** Free of charge of these. */
  readonly free: Quantity;
  /** What the part is worth, in minor units, and what it is worth beyond its figures. */
  readonly amount: Amount;
  readonly correction: Amount;
  /** What its discount lets off, in minor units. */
  readonly letOff: Amount;
}

/** Splits without loss; where there is nothing to weigh by the first has all. */
function shares(sum: number, weights: readonly number[]): number[] {
  return splitByWeights(sum, weights.some((weight) => weight > 0) ? weights : weights.map((_, index) => Number(index === 0)));
}

/**
 * What parts of a line have of its free pieces, its worth and its discount: in proportion, without loss (largest remainder). The
 * first quantity is what stays, with whatever is shipped or invoiced of it; all together are what stands of the line.
 *
 * @example 11 at 0.33 with 1 free, as 6 and 5: 6 with 1 free worth 1.65, and 5 worth 1.65.
 */
export function divideLine(line: DividedLine, quantities: readonly Quantity[]): LineShare[] {
  const free = freePieces(line, quantities);
  const charges = quantities.map((quantity, index) => asQuantity(quantity - (free[index] ?? 0)));
  const whole = { ...line, quantity: charged(line) };
  const amount = amountOfLine(whole);
  const amounts = shares(amount, charges);
  const letOff = shares(extend(whole.quantity, line.price) - amount, charges);
  return quantities.map((quantity, index) => {
    const [worth, charge] = [amounts[index] ?? 0, charges[index] ?? asQuantity(0)];
    return {
      quantity,
      free: free[index] ?? asQuantity(0),
      amount: asAmount(worth),
      correction: asAmount(worth - extend(charge, line.price, line.discount)),
      letOff: asAmount(letOff[index] ?? 0),
    };
  });
}

/** Free pieces by part, in whole pieces of the unit; what is invoiced already stays possible. */
function freePieces(line: DividedLine, quantities: readonly Quantity[]): Quantity[] {
  const all = standing(line);
  const free = leastQuantity(line.free, all);
  const steps = shares(Math.floor(free / line.step), quantities);
  const parts = steps.map((count) => count * line.step);
  // What is finer than the unit, as an older unit left it, stays with the first.
  parts[0] = (parts[0] ?? 0) + (free % line.step);
  const stays = quantities[0] ?? asQuantity(0);
  const least = line.freeInvoiced;
  const most = stays - (line.invoiced - line.freeInvoiced);
  const wanted = Math.min(Math.max(parts[0], least), most);
  let difference = wanted - parts[0];
  parts[0] = wanted;
  for (let index = 1; index < parts.length && difference !== 0; index += 1) {
    const has = parts[index] ?? 0;
    const now = Math.min(Math.max(has - difference, 0), quantities[index] ?? 0);
    parts[index] = now;
    difference -= has - now;
  }
  return parts.map(asQuantity);
}

/** What each part is worth in the books' currency, so that all together are worth there what the whole was, net and total. */
export function divideBooks(
  whole: { readonly booksNet: Amount; readonly booksTotal: Amount },
  parts: readonly Pick<Totals, 'net' | 'total'>[],
): { readonly booksNet: Amount; readonly booksTotal: Amount }[] {
  const nets = shares(
    whole.booksNet,
    parts.map(({ net }) => net),
  );
  const totals = shares(
    whole.booksTotal,
    parts.map(({ total }) => total),
  );
  return parts.map((_, index) => ({ booksNet: asAmount(nets[index] ?? 0), booksTotal: asAmount(totals[index] ?? 0) }));
}

/** The tax of each part, so that all together have the tax of the whole, and what that is beyond its net and the rate. */
export function divideTax(
  whole: Pick<Totals, 'tax'>,
  nets: readonly Amount[],
  taxRate: number,
): { readonly tax: Amount; readonly correction: Amount }[] {
  return shares(whole.tax, nets).map((tax, index) => ({
    tax: asAmount(tax),
    correction: asAmount(tax - shareOf(nets[index] ?? asAmount(0), taxRate)),
  }));
}
