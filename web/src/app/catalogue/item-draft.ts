/** An item as it is being typed, and what is sent of it. */
import { givenFields, type GivenField, type ItemInput, type ItemView } from '@terrace/contract';

export interface Size {
  readonly unit: string;
  readonly weight: string;
  readonly length: string;
  readonly width: string;
  readonly height: string;
}

export interface ItemDraft {
  readonly code: string;
  readonly description: string;
  readonly group: string;
  readonly secondCode: string;
  readonly barcodes: string;
  readonly packs: readonly { readonly code: string; readonly factor: string }[];
  readonly buyUnit: string;
  readonly sellUnit: string;
  readonly countUnit: string;
  readonly sellPrice: string;
  readonly buyPrice: string;
  readonly standardCost: string;
  readonly sellingNotes: string;
  readonly manufacturer: string;
  readonly originCountry: string;
  readonly commodityCode: string;
  readonly sizes: readonly Size[];
  readonly custom: Readonly<Record<string, string>>;
  /** What was typed of the fields that a group may give; the others follow it. */
  readonly typed: Readonly<Partial<Record<GivenField, string>>>;
}

export const EMPTY_DRAFT: ItemDraft = {
  code: '',
  description: '',
  group: '',
  secondCode: '',
  barcodes: '',
  packs: [],
  buyUnit: '',
  sellUnit: '',
  countUnit: '',
  sellPrice: '0',
  buyPrice: '0',
  standardCost: '0',
  sellingNotes: '',
  manufacturer: '',
  originCountry: '',
  commodityCode: '',
  sizes: [],
  custom: {},
  typed: {},
};

/** Fields that may be given by a group and are typed on the item's page; planning has a table of its own. */
export const TYPED_FIELDS = givenFields.filter((field) => field !== 'planning');

/** The value of such a field on an item, as text. */
export function valueOf(item: ItemView, field: GivenField): string {
  const value = field === 'planning' ? '' : item[field];
  return value === null ? '' : String(value);
}

/** A draft of what is kept; as a copy it has no code and no barcode of its own yet. */
export function draftOf(item: ItemView, copy = false): ItemDraft {
  const typed = Object.fromEntries(
    TYPED_FIELDS.filter((field) => item.origins[field] === undefined && valueOf(item, field) !== '').map((field) => [field, valueOf(item, field)]),
  );
  return {
    code: copy ? '' : item.code,
    description: item.description,
    group: item.group,
    secondCode: copy ? '' : (item.secondCode ?? ''),
    barcodes: copy ? '' : item.barcodes.map((each) => (each.unit === null ? each.barcode : `${each.unit}:${each.barcode}`)).join(' '),
    packs: item.packs,
    buyUnit: item.buyUnit ?? '',
    sellUnit: item.sellUnit ?? '',
    countUnit: item.countUnit ?? '',
    sellPrice: item.sellPrice,
    buyPrice: item.buyPrice,
    standardCost: item.standardCost,
    sellingNotes: item.sellingNotes,
    manufacturer: item.manufacturer,
    originCountry: item.originCountry,
    commodityCode: item.commodityCode,
    sizes: item.sizes.map((size) => ({
      unit: size.unit,
      weight: textOf(size.weight),
      length: textOf(size.length),
      width: textOf(size.width),
      height: textOf(size.height),
    })),
    custom: item.custom,
    typed,
  };
}

function textOf(value: number | null): string {
  return value === null ? '' : String(value);
}

function wholeOf(text: string): number | null {
  return /^\d+$/.test(text.trim()) ? Number(text) : null;
}

/** What is sent: empty rows are left out, barcodes are read apart. */
export function inputOf(draft: ItemDraft): ItemInput {
  const { typed, barcodes, sizes, packs, ...plain } = draft;
  return {
    ...plain,
    ...(typed as object),
    secondCode: draft.secondCode === '' ? null : draft.secondCode,
    buyUnit: draft.buyUnit || null,
    sellUnit: draft.sellUnit || null,
    countUnit: draft.countUnit || null,
    sellPrice: draft.sellPrice || '0',
    buyPrice: draft.buyPrice || '0',
    standardCost: draft.standardCost || '0',
    barcodes: barcodesFrom(barcodes),
    packs: packs.filter((pack) => pack.code !== '' || pack.factor !== ''),
    sizes: sizes.map((size) => ({
      unit: size.unit,
      weight: wholeOf(size.weight),
      length: wholeOf(size.length),
      width: wholeOf(size.width),
      height: wholeOf(size.height),
    })),
    custom: { ...draft.custom },
  };
}

/** Barcodes by space; that of a pack begins with its name and a colon. */
export function barcodesFrom(text: string): { barcode: string; unit: string | null }[] {
  return text
    .split(/\s+/)
    .filter(Boolean)
    .map((each) => {
      const at = each.indexOf(':');
      return at < 0 ? { barcode: each, unit: null } : { barcode: each.slice(at + 1), unit: each.slice(0, at) };
    });
}
