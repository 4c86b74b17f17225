/** Lines of an order as they are entered: quantities that the unit can hold, prices that explain themselves, discounts within the ceiling. */
import type { api } from '@terrace/contract';
import type { BodyOf } from '@terrace/contract';
import {
  Refusal,
  assertCeiling,
  givenAway,
  parseAskedPrice,
  parsePositiveQuantity,
  parseQuantity,
  writePrice,
  writeQuantity,
  type Quantity,
  type UnitPrice,
} from '@terrace/core';
import { itemFacts, itemOf, readPoints, usableItem } from '../catalogue';
import { atField } from '../platform/fields';
import type { Work } from '../platform/work';
import { stillAgreed, type AgreedLine } from './agreed-price';
import { priceFor } from './pricing';

export type OrderInput = Omit<BodyOf<typeof api.selling.createOrder>, 'confirm' | 'beyondCredit'>;

export interface EnteredLine {
  readonly id: number | undefined;
  readonly itemId: number;
  readonly quantity: Quantity;
  readonly price: UnitPrice;
  readonly discount: number;
  readonly requiredDate: string;
  readonly priceSteps: readonly string[];
  readonly discountReason: string;
  readonly free: Quantity;
  readonly note: string;
  readonly shipTo: string;
  readonly carrier: string;
  readonly direct: boolean;
  /** Whether it is a charge that a rule added, as the rule had it. */
  readonly byRule: boolean;
}

/** The day whose prices hold, and what they are in. */
interface Priced {
  readonly day: string;
  readonly currency: string;
}
/** What the lines are read against: the lines as they are, where the order is there already and its customer stays. */
interface Before {
  readonly lines: readonly AgreedLine[];
  readonly agreed: boolean;
}

/** Reads the lines of an order. */
export function readLines(work: Work, input: OrderInput, priced: Priced, before: Before = { lines: [], agreed: false }): EnteredLine[] {
  return input.lines.map((line, index) => {
    const at = (field: string): string => `lines.${index}.${field}`;
    const was = before.lines.find((each) => each.id === line.id);
    // What is on the order already may have been given up since.
    const item = atField(at('itemId'), () => (was?.itemId === line.itemId ? itemFacts(work, line.itemId) : usableItem(work, line.itemId)));
    if (item.kind === 'phantom')
      throw new Refusal('notSold', `${item.code} exists only inside a bill of materials: it can't be sold.`, { field: at('itemId') });
    const quantity = atField(at('quantity'), () => parsePositiveQuantity(line.quantity, item.decimals, `the quantity of ${item.code}`));
    const discount = atField(at('discount'), () => readPoints(line.discount, 'A discount'));
    const text = line.price;
    const typed = text === undefined ? null : atField(at('price'), () => parseAskedPrice(text));
    const requiredDate = line.requiredDate ?? input.requiredDate;
    if (line.requiredDate !== undefined && requiredDate < work.today && requiredDate !== was?.requiredDate)
      throw new Refusal('badDate', `${requiredDate} has passed: nothing can be delivered before today, ${work.today}.`, {
        field: at('requiredDate'),
      });
    const free = atField(at('free'), () => readFree(line.free, quantity, item));
    if (line.direct && item.kind !== 'stocked' && item.kind !== 'nonStocked')
      throw new Refusal('notGoods', `${item.code} is nothing that a supplier could ship.`, { field: at('direct') });
    const { note, shipTo, carrier, direct } = line;
    const byRule =
      was?.byRule === true && was.itemId === item.id && was.quantity === quantity && was.discount === discount && (typed ?? was.price) === was.price;
    const common = { id: line.id, itemId: item.id, quantity, discount, requiredDate, free, note, shipTo, carrier, direct, byRule };
    const asked = { ...priced, customerId: input.customerId, warehouseId: input.warehouseId };
    if (was && before.agreed && (typed === null || typed === was.price) && stillAgreed(work, was, common, asked)) {
      if (discount === was.discount) return { ...common, price: was.price, priceSteps: was.priceSteps, discountReason: was.discountReason };
      const reason = withinCeiling(work, at, item.code, itemOf(work, item.id).discountCeiling, discount, line.discountReason);
      return { ...common, price: was.price, priceSteps: was.priceSteps, discountReason: reason };
    }
    const ours = priceFor(work, { ...asked, itemId: item.id, quantity });
    const price = typed ?? ours.price;
    const given = givenAway(ours.price, price, discount);
    const discountReason = withinCeiling(work, at, item.code, ours.ceiling, given, line.discountReason);
    const priceSteps = [...ours.steps];
    if (price !== ours.price) priceSteps.push(`${work.actor.name} typed ${writePrice(price)} instead of ${writePrice(ours.price)}.`);
    return { ...common, price, priceSteps, discountReason };
  });
}

/** Pieces free of charge: none, or some of those that are ordered. Refuses `tooMuch` and what the unit can’t hold. */
function readFree(text: string, quantity: Quantity, item: { readonly code: string; readonly decimals: number }): Quantity {
  const free = parseQuantity(text === '' ? '0' : text, item.decimals, `what of ${item.code} is free of charge`);
  if (free < 0 || free > quantity)
    throw new Refusal('tooMuch', `Of ${writeQuantity(quantity)} ${item.code} between none and all can be free of charge, not ${text}.`);
  return free;
}

/** Refuses more than the ceiling, but for those who may and say why; answers the reason where it took one. */
function withinCeiling(work: Work, at: (field: string) => string, code: string, ceiling: number | null, given: number, reason: string): string {
  atField(at('discount'), () => assertCeiling(code, given, ceiling, work.mayI('selling.exceed'), reason));
  return ceiling !== null && given > ceiling ? reason.trim() : '';
}
