/** Lines of an order as they are entered: quantities that the unit can hold, prices that explain themselves, discounts within the ceiling. */
import type { api } from '@terrace/contract';
import type { BodyOf } from '@terrace/contract';
import { Refusal, assertCeiling, givenAway, parseAskedPrice, parsePositiveQuantity, writePrice, type Quantity, type UnitPrice } from '@terrace/core';
import { readPoints, usableItem } from '../catalogue';
import { atField } from '../platform/fields';
import type { Work } from '../platform/work';
import { priceFor } from './pricing';

export type OrderInput = Omit<BodyOf<typeof api.selling.createOrder>, 'confirm'>;

export interface EnteredLine {
  readonly id: number | undefined;
  readonly itemId: number;
  readonly quantity: Quantity;
  readonly price: UnitPrice;
  readonly discount: number;
  readonly requiredDate: string;
  readonly priceSteps: readonly string[];
  readonly discountReason: string;
}

/** Reads the lines of an order. `day` is the one whose prices hold. */
export function readLines(work: Work, input: OrderInput, day: string): EnteredLine[] {
  return input.lines.map((line, index) => {
    const at = (field: string): string => `lines.${index}.${field}`;
    const item = atField(at('itemId'), () => usableItem(work, line.itemId));
    if (item.kind === 'phantom')
      throw new Refusal('notSold', `${item.code} exists only inside a bill of materials: it can't be sold.`, { field: at('itemId') });
    const quantity = atField(at('quantity'), () => parsePositiveQuantity(line.quantity, item.decimals, `the quantity of ${item.code}`));
    const discount = atField(at('discount'), () => readPoints(line.discount, 'A discount'));
    const priced = priceFor(work, { itemId: item.id, quantity, day, customerId: input.customerId, warehouseId: input.warehouseId });
    const text = line.price;
    const typed = text === undefined ? null : atField(at('price'), () => parseAskedPrice(text));
    const price = typed ?? priced.price;
    const given = givenAway(priced.price, price, discount);
    atField(at('discount'), () => assertCeiling(item.code, given, priced.ceiling, work.mayI('selling.exceed'), line.discountReason));
    const steps = [...priced.steps];
    if (price !== priced.price) steps.push(`${work.actor.name} typed ${writePrice(price)} instead of ${writePrice(priced.price)}.`);
    return {
      id: line.id,
      itemId: item.id,
      quantity,
      price,
      discount,
      requiredDate: line.requiredDate ?? input.requiredDate,
      priceSteps: steps,
      discountReason: priced.ceiling !== null && given > priced.ceiling ? line.discountReason.trim() : '',
    };
  });
}
