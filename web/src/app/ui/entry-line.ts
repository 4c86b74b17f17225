/** A line of a document as it is entered, and what follows from what is typed so far. */
import type { ItemChoice } from '@terrace/contract';
import { QUANTITY_SCALE, asPrice, asQuantity, extend, parsePrice, parseQuantity, readDecimal, toScale, writeAmount } from '@terrace/core';
import { grouped } from './format';

export interface EntryLine {
  /** Of a line that is kept already. */
  readonly id?: number;
  readonly item: ItemChoice | null;
  readonly quantity: string;
  readonly price: string;
  readonly discount: string;
  readonly date: string;
  /** Whether the price was typed; else it is the lists' and follows customer and quantity. */
  readonly typed?: boolean;
  /** Why more than the ceiling is given away. */
  readonly reason?: string;
  /** How many of its pieces are free of charge; empty for none. */
  readonly free: string;
  readonly note: string;
  /** Where it goes and by whom, if not as the order. */
  readonly shipTo: string;
  readonly carrier: string;
  /** Whether the supplier ships it. */
  readonly direct: boolean;
}

/** What a line begins with; frozen, since a form marks the lines that it holds: each has to be one of its own ({@link freshLine}). */
const EMPTY_LINE: EntryLine = Object.freeze({
  item: null,
  quantity: '',
  price: '',
  discount: '0',
  date: '',
  free: '',
  note: '',
  shipTo: '',
  carrier: '',
  direct: false,
});

/** A line of its own, empty but for what is given; what a form has marked on another does not come along. */
export function freshLine(given: Partial<EntryLine> = {}): EntryLine {
  return { ...EMPTY_LINE, ...(Object.fromEntries(Object.entries(given)) as Partial<EntryLine>) };
}

const NOTHING = { mantissa: 0n, scale: 0 };

/** What a line says beyond item, quantity and price, in a few words. */
export function detailWords({ free, note, shipTo, carrier, direct }: EntryLine): string {
  const parts = [
    free === '' || free === '0' ? '' : `${grouped(free)} free of charge`,
    shipTo === '' ? '' : `to ${shipTo.split('\n').join(', ')}`,
    carrier === '' ? '' : `by ${carrier}`,
    direct ? 'the supplier ships it' : '',
    note,
  ];
  return parts.filter(Boolean).join(' · ');
}

/** Amount of a line as typed so far; empty where it can't be told yet. */
export function amountOf(line: EntryLine): string {
  if (!line.item || !readDecimal(line.quantity) || !readDecimal(line.price)) return '';
  try {
    const discount = readDecimal(line.discount || '0');
    const points = discount ? Number(discount.mantissa) * 10 ** (2 - Math.min(2, discount.scale)) : 0;
    const [all, free] = [line.quantity, line.free || '0'].map((text) => parseQuantity(text, QUANTITY_SCALE));
    return writeAmount(extend(asQuantity(Math.max(0, (all ?? 0) - (free ?? 0))), asPrice(parsePrice(line.price)), points));
  } catch {
    // A figure that the server will refuse has no amount yet.
    return '';
  }
}

/** A quantity in the pack that the item is usually bought or sold in: "= 10 case", or what such a pack holds. */
export function packWords({ item, quantity }: Pick<EntryLine, 'item' | 'quantity'>, buying: boolean): string {
  const code = buying ? item?.buyUnit : item?.sellUnit;
  const pack = item?.packs.find((each) => each.code === code);
  if (!pack) return '';
  const scaled = (text: string): bigint => toScale(readDecimal(text) ?? NOTHING, QUANTITY_SCALE) ?? 0n;
  const [typed, factor] = [scaled(quantity), scaled(pack.factor)];
  if (typed === 0n || factor === 0n || typed % factor !== 0n) return `${pack.code} of ${pack.factor}`;
  return `= ${typed / factor} ${pack.code}`;
}

/** The barcode of a pack says how many: one pack, where no quantity was typed. */
export function scannedQuantity(item: ItemChoice, quantity: string): Partial<EntryLine> {
  const pack = item.packs.find((each) => each.code === item.scanned);
  return pack && quantity === '' ? { quantity: pack.factor } : {};
}

/** The item of a line that is kept already, as far as the line tells of it. */
export function itemOf(line: { itemId: number } & Pick<ItemChoice, 'code' | 'description' | 'unit' | 'decimals'>, sellPrice = '0'): ItemChoice {
  const { itemId, code, description, unit, decimals } = line;
  return { id: itemId, code, description, unit, decimals, sellPrice, kind: 'stocked', packs: [] };
}
