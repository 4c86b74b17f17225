/** What the demo company has set up besides its items: prices, families, substitutes, foreign terms, fields of its own. */
import { itemInput, familyInput, priceEntryInput, priceListInput, termInput } from '@terrace/contract';
import { catalogue, selling, type Work } from '@terrace/server';
import { addDays } from '@terrace/core';
import { idOf } from './known';

export function tellCatalogue(work: Work): void {
  fieldsOfOurOwn(work);
  money(work);
  terms(work);
  details(work);
  clothing(work);
  prices(work);
}

function fieldsOfOurOwn(work: Work): void {
  const field = (
    record: 'item' | 'customer' | 'supplier' | 'customerOrder',
    title: string,
    type: 'text' | 'choice' | 'yesNo' | 'number',
    choices: string[] = [],
  ): void => catalogue.saveField(work, { record, title, type, choices, active: true });
  field('item', 'Season', 'choice', ['spring', 'summer', 'autumn', 'all year']);
  field('item', 'Catalogue page', 'number');
  field('customer', 'Delivers between', 'text');
  field('supplier', 'Brings it himself', 'yesNo');
  field('customerOrder', 'Gate', 'text');
}

function fieldId(work: Work, title: string): number {
  const field = catalogue.customFields(work).find((each) => each.title === title);
  if (!field) throw new RangeError(`the demo company has no field ${title}`);
  return field.id;
}

function money(work: Work): void {
  for (const [code, name, rates] of [
    ['GBP', 'Pound sterling', ['1.1712', '1.1655', '1.1690', '1.1748', '1.1731', '1.1802']],
    ['USD', 'US dollar', ['0.9218', '0.9304', '0.9267', '0.9251', '0.9290', '0.9276']],
  ] as const)
    rates.forEach((rate, index) => catalogue.saveCurrency(work, { code, name, rate, date: addDays(work.today, index * 21 - 30) }));
}

/** Nearer than who usually delivers wire, and dearer: for when it is short. */
export function offerWire(work: Work): void {
  catalogue.setTerm(
    work,
    idOf(work, 'item', 'WIRE'),
    termInput.parse({
      supplierId: idOf(work, 'supplier', 'TIMBER'),
      supplierItemCode: 'CT-HW-04',
      supplierDescription: 'Hive wire, by the roll of 100 m',
      price: '0.052',
      leadDays: 2,
      minimum: '100',
      multiple: '100',
      preferred: false,
    }),
  );
}

function terms(work: Work): void {
  const set = (item: string, term: object): void => catalogue.setTerm(work, idOf(work, 'item', item), termInput.parse(term));
  const drive = idOf(work, 'supplier', 'DRIVE');
  set('MOTOR-12', {
    supplierId: drive,
    supplierItemCode: 'GD-12V-90',
    price: '122.00',
    currency: 'GBP',
    leadDays: 20,
    minimum: '2',
    breaks: [{ from: '10', price: '115.50' }],
  });
  set('CTRL-12', { supplierId: drive, supplierItemCode: 'GD-C12', price: '52.40', currency: 'GBP', leadDays: 15, minimum: '2' });
  set('JAR-500', {
    supplierId: idOf(work, 'supplier', 'GLASS'),
    supplierItemCode: 'VL-500-63',
    supplierDescription: 'Round jar 500 ml, neck 63',
    price: '0.31',
    buyUnit: 'case',
    leadDays: 9,
    minimum: '864',
    multiple: '72',
    breaks: [
      { from: '1728', price: '0.29' },
      { from: '8640', price: '0.262' },
    ],
  });
  set('SMOKER', {
    supplierId: idOf(work, 'supplier', 'METAL'),
    supplierItemCode: 'IB-SMK',
    price: '16.90',
    leadDays: 12,
    minimum: '20',
    preferred: false,
  });
}

function details(work: Work): void {
  const season = fieldId(work, 'Season');
  const page = fieldId(work, 'Catalogue page');
  const seasons: Readonly<Record<string, string>> = {
    'HIVE-10': 'spring',
    'FRAMES-10': 'spring',
    'EXTRACT-9': 'summer',
    'JAR-500': 'summer',
    STRIPS: 'autumn',
    SMOKER: 'all year',
    HIVETOOL: 'all year',
    GLOVES: 'all year',
  };
  Object.entries(seasons).forEach(([code, words], index) => change(work, code, { custom: { [season]: words, [page]: String(4 + index * 3) } }));
  change(work, 'HIVE-10', {
    sizes: [{ unit: 'each', weight: 21_500, length: 510, width: 470, height: 620 }],
    commodityCode: '44219999',
    originCountry: 'IE',
    standardCost: '72.00',
  });
  change(work, 'EXTRACT-9', {
    sizes: [{ unit: 'each', weight: 48_000, length: 760, width: 760, height: 1090 }],
    commodityCode: '84368090',
    standardCost: '505.00',
  });
  change(work, 'JAR-500', {
    barcodes: [...catalogue.barcodesOf(work, idOf(work, 'item', 'JAR-500')), { barcode: '2000041990720', unit: 'case' }],
    manufacturer: 'Vessel & Lid Glassware',
    commodityCode: '70109041',
    buyUnit: 'case',
    countUnit: 'case',
  });
  substitute(work, 'NAIL', 'SCREW', '1', true);
  substitute(work, 'BROODBOX', 'SUPER', '2', false);
}

function change(work: Work, code: string, given: object): void {
  const id = idOf(work, 'item', code);
  catalogue.changeItem(work, id, { ...catalogue.asIs(work, id), ...given });
}

function substitute(work: Work, code: string, other: string, ratio: string, bothWays: boolean): void {
  const id = idOf(work, 'item', code);
  catalogue.setSubstitutes(work, id, {
    version: catalogue.itemView(work, id).version,
    lines: [{ itemId: idOf(work, 'item', other), ratio, bothWays }],
  });
}

function clothing(work: Work): void {
  const family = catalogue.createFamily(
    work,
    familyInput.parse({
      code: 'VEST',
      description: 'Ventilated bee vest',
      group: 'WEAR',
      attributes: [
        {
          name: 'Size',
          values: [
            { code: 'S', name: 'small' },
            { code: 'M', name: 'medium' },
            { code: 'L', name: 'large' },
          ],
        },
        {
          name: 'Colour',
          values: [
            { code: 'WHT', name: 'white' },
            { code: 'OLV', name: 'olive' },
          ],
        },
      ],
    }),
  );
  const { version, variants } = catalogue.familyView(work, family);
  const made = variants
    .filter((each) => each.values['Colour'] === 'WHT')
    .map(({ code, description, values }) => ({ code, description, values, sellPrice: '79.00' }));
  catalogue.makeVariants(work, family, { version, variants: made });
  for (const { code } of made)
    catalogue.setTerm(
      work,
      idOf(work, 'item', code),
      termInput.parse({ supplierId: idOf(work, 'supplier', 'OUTFIT'), supplierItemCode: `HW-${code}`, price: '38.50', leadDays: 7, minimum: '5' }),
    );
  // Two people set up the same thing in the same week: what the warning for likely doubles is for.
  catalogue.createItem(work, itemInput.parse({ code: 'TOOL-STEEL', description: 'Hive tool stainless', group: 'GOODS', sellPrice: '9.80' }));
}

function prices(work: Work): void {
  const list = (given: object): number => selling.createPriceList(work, priceListInput.parse(given));
  const price = (listId: number, given: object): number => selling.addPriceEntry(work, listId, priceEntryInput.parse(given));
  const item = (code: string): number => idOf(work, 'item', code);
  const centres = list({ code: 'CENTRES', name: 'Garden centres', customerGroup: 'CENTRES', rounding: '0.05' });
  price(centres, { groupCode: 'PRODUCT', way: 'offList', breaks: [{ value: '8' }] });
  price(centres, { groupCode: 'GOODS', way: 'offList', breaks: [{ value: '12' }] });
  price(centres, {
    itemId: item('JAR-500'),
    way: 'amount',
    breaks: [
      { from: '0', value: '0.55' },
      { from: '720', value: '0.49' },
    ],
  });
  const shops = list({ code: 'SHOPS', name: 'Farm shops', customerGroup: 'SHOPS', rounding: '.95' });
  price(shops, { itemId: item('SMOKER'), way: 'marginOnCost', breaks: [{ value: '45' }] });
  price(shops, { itemId: item('GLOVES'), way: 'overCost', breaks: [{ value: '95' }] });
  const contract = list({ code: 'COOP', name: 'Contract with Meadowside', customerId: idOf(work, 'customer', 'MEADCOOP'), currency: 'GBP' });
  price(contract, { itemId: item('HIVE-10'), way: 'amount', breaks: [{ value: '152.00' }, { from: '10', value: '147.00' }] });
  price(contract, { itemId: item('FRAMES-10'), way: 'amount', breaks: [{ value: '23.50' }, { from: '20', value: '22.20' }] });
  selling.addChargeRule(work, {
    itemId: item('FREIGHT'),
    by: 'weight',
    carrier: 'Moorland Parcels',
    active: true,
    steps: [
      { from: '0', price: '6.90' },
      { from: '10', price: '11.40' },
      { from: '30', price: '18.60' },
      { from: '100', price: '32.00' },
    ],
  });
  const season = list({
    code: 'SPRING',
    name: 'Spring offer',
    validFrom: addDays(work.today, 30),
    validTo: addDays(work.today, 110),
    rounding: '.99',
  });
  price(season, { itemId: item('EXTRACT-9'), way: 'overStandard', breaks: [{ value: '115' }] });
  price(season, { itemId: item('HIVETOOL'), way: 'offList', breaks: [{ value: '10' }] });
}
