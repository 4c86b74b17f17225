import { describe, expect, it } from 'vitest';
import { itemInput, type ItemView } from '@terrace/contract';
import { valuesFrom } from './family-values';
import { EMPTY_DRAFT, barcodesFrom, draftOf, inputOf } from './item-draft';

const kept = {
  id: 7,
  code: 'JAR-500',
  description: 'Honey jar',
  group: 'GOODS',
  kind: 'stocked',
  unit: 'each',
  tracking: 'none',
  costing: 'movingAverage',
  discountCeiling: '12',
  shelfLifeDays: null,
  restLifeDays: null,
  storageOverhead: '12',
  secondCode: null,
  barcodes: [
    { barcode: '111', unit: null },
    { barcode: '222', unit: 'case' },
  ],
  packs: [{ code: 'case', factor: '72' }],
  buyUnit: 'case',
  sellUnit: null,
  countUnit: null,
  sellPrice: '0.62',
  buyPrice: '0.00',
  standardCost: '0.00',
  sellingNotes: '',
  manufacturer: '',
  originCountry: '',
  commodityCode: '70109041',
  sizes: [{ unit: 'case', weight: 14_500, length: 400, width: null, height: null }],
  custom: { '3': 'summer' },
  origins: { unit: 'ALL', kind: 'ALL', tracking: 'ALL', costing: 'ALL', storageOverhead: 'ALL' },
} as unknown as ItemView;

describe('an item as it is typed', () => {
  it('holds as typed only what does not follow the group', () => {
    expect(draftOf(kept).typed).toEqual({ discountCeiling: '12' });
  });
  it('is sent as it was kept where nothing was changed', () => {
    const sent = itemInput.parse(inputOf(draftOf(kept)));
    expect(sent).toMatchObject({
      code: 'JAR-500',
      discountCeiling: '12',
      barcodes: kept.barcodes,
      packs: kept.packs,
      sizes: kept.sizes,
      buyUnit: 'case',
      custom: kept.custom,
    });
    expect(sent.unit).toBeUndefined();
  });
  it('has, as a copy, no code and no barcode of its own yet', () => {
    expect(draftOf(kept, true)).toMatchObject({ code: '', barcodes: '', description: 'Honey jar', packs: kept.packs });
  });
  it('leaves out packs that say nothing, and takes an empty price for none', () => {
    const sent = inputOf({ ...EMPTY_DRAFT, sellPrice: '', packs: [{ code: '', factor: '' }] });
    expect(sent).toMatchObject({ packs: [], sellPrice: '0' });
  });
});

describe('what is typed in one line', () => {
  it.each([
    [
      '123 456',
      [
        ['123', null],
        ['456', null],
      ],
    ],
    [
      'case:789  123',
      [
        ['789', 'case'],
        ['123', null],
      ],
    ],
    ['', []],
  ] as const)('barcodes "%s"', (text, expected) => {
    expect(barcodesFrom(text)).toEqual(expected.map(([barcode, unit]) => ({ barcode, unit })));
  });
  it('values of an attribute', () => {
    expect(valuesFrom('S small, XL extra large,, OLV')).toEqual([
      { code: 'S', name: 'small' },
      { code: 'XL', name: 'extra large' },
      { code: 'OLV', name: 'OLV' },
    ]);
  });
});
