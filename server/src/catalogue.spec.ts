import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, type AnswerOf, type BodyIn } from '@terrace/contract';
import { TODAY, openCompany, type Client, type Company } from './testing/company';

const { catalogue, stores, selling, buying } = api;
let company: Company;
let manager: Client;
let admin: Client;

beforeAll(async () => {
  company = await openCompany();
  manager = await company.as('manager');
  admin = await company.as('administrator');
});
afterAll(() => company.close());

const item = (code: string) => manager.call(catalogue.getItem, { params: { id: company.id('item', code) } });
const setUp = (body: BodyIn<typeof catalogue.createItem>) => manager.call(catalogue.createItem, { body });
const change = (of: AnswerOf<typeof catalogue.getItem>, more: object) => ({
  params: { id: of.id },
  body: { code: of.code, description: of.description, group: of.group, version: of.version, active: of.active, ...more },
});
const group = async (code: string) => {
  const found = (await manager.call(catalogue.getGround)).groups.find((each) => each.code === code);
  if (!found) throw new Error(`no group ${code}`);
  return found;
};

describe('groups and what their items take from them', () => {
  beforeAll(async () => {
    const accounts = { inventoryAccount: '1400', costOfSalesAccount: '5000', revenueAccount: '4000' };
    for (const [code, parent, defaults] of [
      ['FEED', 'ALL', { unit: 'm', discountCeiling: '10', shelfLifeDays: '365' }],
      ['SUGAR', 'FEED', { discountCeiling: '5', planning: 'buy in WORKS' }],
    ] as const)
      await manager.call(catalogue.saveGroup, { body: { code, name: code, parent, ...accounts, defaults } });
  });

  it('fills what was not typed, and says from which group each value is', async () => {
    const made = await setUp({ code: 'SYRUP', description: 'Syrup', group: 'SUGAR', shelfLifeDays: '200' });
    expect(made).toMatchObject({ unit: 'm', discountCeiling: '5', shelfLifeDays: 200, kind: 'stocked' });
    expect(made.origins).toEqual({ unit: 'FEED', discountCeiling: 'SUGAR', planning: 'SUGAR' });
    expect(made.given['shelfLifeDays']).toEqual({ value: '365', group: 'FEED' });
    expect(made.rules).toMatchObject([{ warehouse: 'WORKS', source: 'buy' }]);
  });

  it('goes back to the group’s value where the typed one is left out', async () => {
    const made = await item('SYRUP');
    const back = await manager.call(catalogue.changeItem, change(made, {}));
    expect(back).toMatchObject({ shelfLifeDays: 365, origins: { shelfLifeDays: 'FEED' } });
  });

  it('hands a changed default to the items that follow, and leaves those that typed their own', async () => {
    const own = await setUp({ code: 'CANDY', description: 'Candy', group: 'SUGAR', discountCeiling: '7' });
    const sugar = await group('SUGAR');
    const answer = await manager.call(catalogue.saveGroup, { body: { ...sugar, defaults: { ...sugar.defaults, discountCeiling: '6' } } });
    expect(answer).toMatchObject({ followed: 1, kept: [] });
    expect((await item('SYRUP')).discountCeiling).toBe('6');
    expect((await item('CANDY')).discountCeiling).toBe('7');
    expect((await item('CANDY')).version).toBe(own.version);
  });

  it('keeps unit and tracking of an item whose stock has moved, as its own from then on', async () => {
    const made = await setUp({ code: 'FONDANT', description: 'Fondant', group: 'FEED' });
    await manager.call(stores.adjust, {
      body: { warehouseId: 1, reason: 'OPENING', lines: [{ itemId: made.id, binId: 1, change: '5', unitCost: '1' }] },
    });
    const feed = await group('FEED');
    const answer = await manager.call(catalogue.saveGroup, { body: { ...feed, defaults: { ...feed.defaults, unit: 'each' } } });
    expect(answer.kept).toEqual(['FONDANT']);
    const kept = await item('FONDANT');
    expect(kept.unit).toBe('m');
    expect(kept.origins).not.toHaveProperty('unit');
    expect(kept.locks['unit']).toContain('ADJ-');
    expect(await manager.refused(catalogue.changeItem, change(kept, { unit: 'each' }))).toMatchObject({
      code: 'locked',
      errors: [{ field: 'unit' }],
    });
  });

  it('refuses a circle of groups, an unknown default, and a version that is past', async () => {
    const feed = await group('FEED');
    expect(await manager.refused(catalogue.saveGroup, { body: { ...feed, parent: 'SUGAR' } })).toMatchObject({ code: 'groupCircle' });
    expect(await manager.refused(catalogue.saveGroup, { body: { ...feed, defaults: { colour: 'red' } } })).toMatchObject({ code: 'unknownField' });
    expect(await manager.refused(catalogue.saveGroup, { body: { ...feed, defaults: { costing: 'guess' } } })).toMatchObject({ code: 'unknownWord' });
    expect(await manager.refused(catalogue.saveGroup, { body: { ...feed, version: feed.version - 1 } })).toMatchObject({ code: 'staleVersion' });
  });

  it('needs a unit from somewhere', async () => {
    expect(await manager.refused(catalogue.createItem, { body: { code: 'NOUNIT', description: 'x', group: 'ALL' } })).toMatchObject({
      code: 'noUnit',
      errors: [{ field: 'unit' }],
    });
  });
});

describe('units', () => {
  it('may be widened, never narrowed below what is kept', async () => {
    const { units } = await manager.call(catalogue.getGround);
    const metre = units.find((each) => each.code === 'm');
    const wider = await manager.call(catalogue.saveUnit, { body: { code: 'm', name: 'metre', decimals: 3, version: metre?.version ?? 0 } });
    await manager.call(stores.adjust, {
      body: { warehouseId: 1, reason: 'OPENING', lines: [{ itemId: company.id('item', 'WIRE'), binId: 1, change: '0.25', unitCost: '0.04' }] },
    });
    const version = wider.units.find((each) => each.code === 'm')?.version ?? 0;
    const refused = await manager.refused(catalogue.saveUnit, { body: { code: 'm', name: 'metre', decimals: 1, version } });
    expect(refused).toMatchObject({ code: 'finerKept', errors: [{ field: 'decimals' }] });
    await manager.call(catalogue.saveUnit, { body: { code: 'm', name: 'metre', decimals: 2, version } });
  });

  it('of packs are exact, named once, and chosen for buying, selling and counting', async () => {
    const made = await setUp({
      code: 'GLASS',
      description: 'Glass',
      group: 'ALL',
      unit: 'each',
      packs: [{ code: 'case', factor: '12' }],
      buyUnit: 'case',
      barcodes: [{ barcode: '777', unit: 'case' }],
      sizes: [{ unit: 'case', weight: 5200, length: 400, width: 300, height: 200 }],
    });
    expect(made).toMatchObject({ buyUnit: 'case', barcodes: [{ barcode: '777', unit: 'case' }], sizes: [{ unit: 'case', weight: 5200 }] });
    expect(await manager.refused(catalogue.changeItem, change(made, { unit: 'each', buyUnit: 'crate' }))).toMatchObject({ code: 'unknownUnit' });
    expect(await manager.refused(catalogue.changeItem, change(made, { unit: 'each', packs: [{ code: 'each', factor: '2' }] }))).toMatchObject({
      code: 'sameUnit',
    });
  });
});

describe('items', () => {
  it('are warned of when they look like one that is there', async () => {
    await setUp({ code: 'TOOL', description: 'Hive tool, steel', group: 'ALL', unit: 'each', barcodes: [{ barcode: '4711' }] });
    const like = (query: object) => manager.call(catalogue.likeItems, { query });
    expect(await like({ description: 'Hive tools steel' })).toMatchObject([{ code: 'TOOL', why: 'has nearly the same description' }]);
    expect(await like({ barcodes: '4711' })).toMatchObject([{ code: 'TOOL' }]);
    expect(await like({ description: 'Hive tools steel', except: company.id('item', 'TOOL') })).toEqual([]);
    expect(await like({ description: 'Wax melter' })).toEqual([]);
  });

  it('stand in for one another, one way or both, with a ratio', async () => {
    const [bar, wire] = [await item('BAR'), await item('WIRE')];
    const set = await manager.call(catalogue.setSubstitutes, {
      params: { id: bar.id },
      body: { version: bar.version, lines: [{ itemId: wire.id, ratio: '4', bothWays: true }] },
    });
    expect(set.substitutes).toMatchObject([{ code: 'WIRE', ratio: '4' }]);
    expect((await item('WIRE')).substitutes).toMatchObject([{ code: 'BAR', ratio: '0.25' }]);
    expect(
      await manager.refused(catalogue.setSubstitutes, { params: { id: bar.id }, body: { version: set.version, lines: [{ itemId: bar.id }] } }),
    ).toMatchObject({ code: 'itself' });
    const order = await manager.call(selling.createOrder, {
      body: { customerId: 1, warehouseId: 1, requiredDate: TODAY, lines: [{ itemId: bar.id, quantity: '90' }], confirm: true },
    });
    expect(order.lines[0]?.substitutes).toMatchObject([{ code: 'WIRE', ratio: '4' }]);
  });

  it('say what is left hanging when they become inactive', async () => {
    const frame = await item('FRAME');
    expect(frame.inUse).toContain('stock on hand');
    expect((await item('WIRE')).inUse).toContain('bill of materials of FRAME');
  });

  it('are changed many at once, all or none, the refusal naming row and field', async () => {
    const [bar, frame] = [await item('BAR'), await item('FRAME')];
    const changes = [
      { id: bar.id, version: bar.version, fields: { sellPrice: '0.60', manufacturer: 'Cragley' } },
      { id: frame.id, version: frame.version, fields: { sellPrice: '3.40', discountCeiling: '12.5' } },
    ];
    const before = company.everything();
    const wrong = await manager.refused(catalogue.changeItems, { body: { changes: [changes[0], { ...changes[1], fields: { sellPrice: 'dear' } }] } });
    expect(wrong).toMatchObject({ code: 'notANumber', errors: [{ field: 'changes.1.sellPrice' }] });
    expect(company.everything()).toBe(before);
    expect(await manager.call(catalogue.changeItems, { body: { changes } })).toEqual({ changed: 2 });
    expect(await item('FRAME')).toMatchObject({ sellPrice: '3.40', discountCeiling: '12.5', bom: frame.bom, barcodes: frame.barcodes });
    expect(await manager.refused(catalogue.changeItems, { body: { changes } })).toMatchObject({ code: 'staleVersion' });
  });

  it('move to another group with what the stores count by kept', async () => {
    const bar = await item('BAR');
    await manager.call(catalogue.changeItems, { body: { changes: [{ id: bar.id, version: bar.version, fields: { group: 'FEED' } }] } });
    expect(await item('BAR')).toMatchObject({ group: 'FEED', unit: 'each', shelfLifeDays: 365 });
  });
});

describe('finding', () => {
  const find = async (text: string) => (await manager.call(catalogue.findItems, { query: { text } })).map((each) => each.code);
  beforeAll(async () => {
    await setUp({ code: 'EXT-9', description: 'Honey extractor, nine frames', group: 'ALL', unit: 'each', secondCode: 'HX9' });
    await setUp({ code: 'EXT-4', description: 'Honey extractor, four frames', group: 'ALL', unit: 'each' });
  });
  it.each([
    ['EXT-9', 'EXT-9'],
    ['hx9', 'EXT-9'],
    ['4711', 'TOOL'],
    ['nine honey', 'EXT-9'],
    ['frames extr nine', 'EXT-9'],
    ['extracter nine', 'EXT-9'],
    ['honney extractro nine', 'EXT-9'],
  ])('"%s" gives %s first', async (text, code) => expect((await find(text))[0]).toBe(code));
  it('tells of which pack a scanned barcode is', async () => {
    const [found] = await manager.call(catalogue.findItems, { query: { text: '777' } });
    expect(found).toMatchObject({ code: 'GLASS', scanned: 'case', buyUnit: 'case', packs: [{ code: 'case', factor: '12' }] });
  });
  it('puts what is used before what is not', async () => {
    await manager.call(selling.createOrder, {
      body: { customerId: 1, warehouseId: 1, requiredDate: TODAY, lines: [{ itemId: company.id('item', 'EXT-4'), quantity: '1' }] },
    });
    expect(await find('honey extractor')).toEqual(['EXT-4', 'EXT-9']);
  });
  it('finds nothing for nothing, and takes signs of the index as text', async () => {
    expect(await find('   ')).toEqual([]);
    expect(await find('"* OR ^ (')).toEqual(expect.any(Array));
    expect(await find('NEAR(honey)')).toEqual(expect.any(Array));
  });
  it('follows a changed description', async () => {
    const extractor = await item('EXT-4');
    await manager.call(catalogue.changeItem, change(extractor, { unit: 'each', description: 'Tangential spinner' }));
    expect(await find('spinner')).toEqual(['EXT-4']);
    expect(await find('four')).toEqual([]);
  });
});

describe('families', () => {
  const attributes = [
    { name: 'Size', values: ['S', 'M'].map((code) => ({ code, name: code })) },
    {
      name: 'Colour',
      values: [
        { code: 'WHT', name: 'white' },
        { code: 'OLV', name: 'olive' },
      ],
    },
  ];
  it('show every variant before any is made, then make those chosen, each with what differs', async () => {
    const family = await manager.call(catalogue.createFamily, { body: { code: 'SUIT', description: 'Bee suit', group: 'FEED', attributes } });
    expect(family.variants.map((each) => each.code)).toEqual(['SUIT-S-WHT', 'SUIT-S-OLV', 'SUIT-M-WHT', 'SUIT-M-OLV']);
    const [first] = family.variants;
    const chosen = [{ ...first, values: first?.values ?? {}, code: 'SUIT-SMALL', description: 'Bee suit for children', sellPrice: '59.00' }];
    const made = await manager.call(catalogue.makeVariants, { params: { id: family.id }, body: { version: family.version, variants: chosen } });
    expect(made.variants[0]).toMatchObject({ code: 'SUIT-SMALL', sellPrice: '59.00' });
    expect(await item('SUIT-SMALL')).toMatchObject({ family: { code: 'SUIT' }, variant: { Size: 'S', Colour: 'WHT' } });
    expect(
      await manager.refused(catalogue.makeVariants, { params: { id: family.id }, body: { version: made.version, variants: chosen } }),
    ).toMatchObject({ code: 'madeAlready' });
    expect(
      await manager.refused(catalogue.changeFamily, {
        params: { id: family.id },
        body: { ...made, attributes: [attributes[0], { name: 'Colour', values: [{ code: 'OLV', name: 'olive' }] }] },
      }),
    ).toMatchObject({ code: 'valueInUse' });
  });
});

describe('suppliers’ terms', () => {
  it('hold in their time, with breaks, discount and currency, and price an order by them', async () => {
    const id = company.id('item', 'SMOKER');
    const supplierId = company.id('supplier', 'METAL');
    const term = { supplierId, price: '10', currency: 'GBP', discount: '10', leadDays: 5, validFrom: TODAY, breaks: [{ from: '50', price: '8' }] };
    expect(await manager.refused(catalogue.setTerm, { params: { id }, body: term })).toMatchObject({
      code: 'noRate',
      errors: [{ field: 'currency' }],
    });
    await manager.call(catalogue.saveCurrency, { body: { code: 'GBP', name: 'Pound', date: '2027-02-01', rate: '1.25' } });
    const set = await manager.call(catalogue.setTerm, { params: { id }, body: term });
    expect(set.terms.filter((each) => each.validFrom === TODAY)).toMatchObject([
      { price: '10.00', holds: true, breaks: [{ from: '50', price: '8.00' }] },
    ]);
    const buy = async (quantity: string) =>
      (await manager.call(buying.createPurchase, { body: { supplierId, warehouseId: 1, lines: [{ itemId: id, quantity, dueDate: '2027-03-09' }] } }))
        .lines[0]?.price;
    expect(await buy('10')).toBe('11.25');
    expect(await buy('50')).toBe('9.00');
    const [kept] = set.terms.filter((each) => each.validFrom === TODAY);
    expect(
      await manager.refused(catalogue.setTerm, { params: { id }, body: { ...term, id: kept?.id, version: (kept?.version ?? 0) + 1 } }),
    ).toMatchObject({ code: 'staleVersion' });
    expect(await manager.refused(catalogue.setTerm, { params: { id }, body: { ...term, validTo: '2027-01-01' } })).toMatchObject({
      code: 'badPeriod',
    });
    const dropped = await manager.call(catalogue.dropTerm, { params: { id, term: kept?.id ?? 0 } });
    expect(dropped.terms).toHaveLength(1);
  });
});

describe('a lead time that nobody typed', () => {
  it('is the supplier’s own, and asked for where they have none', async () => {
    const params = { id: company.id('item', 'WIRE') };
    const supplier = await manager.call(catalogue.createSupplier, { body: { code: 'SLOW', name: 'Slow Works' } });
    const term = { supplierId: supplier.id, price: '1', preferred: false };
    const before = company.everything();
    expect(await manager.refused(catalogue.setTerm, { params, body: term })).toMatchObject({ code: 'noLeadTime', errors: [{ field: 'leadDays' }] });
    expect(company.everything()).toBe(before);
    await manager.call(catalogue.changeSupplier, { params: { id: supplier.id }, body: { ...supplier, leadDays: 12 } });
    const set = await manager.call(catalogue.setTerm, { params, body: term });
    expect(set.terms.find((each) => each.supplier === 'Slow Works')?.leadDays).toBe(12);
  });
});

describe('fields of the company’s own', () => {
  let season = 0;
  beforeAll(async () => {
    const ground = await admin.call(catalogue.saveField, {
      body: { record: 'item', title: 'Season', type: 'choice', choices: ['spring', 'autumn'] },
    });
    season = ground.fields.find((each) => each.title === 'Season')?.id ?? 0;
    await admin.call(catalogue.saveField, { body: { record: 'customerOrder', title: 'Gate', type: 'number' } });
  });

  it('are kept, found, filtered and sorted like the others', async () => {
    const strips = await item('STRIPS');
    const kept = await manager.call(catalogue.changeItem, change(strips, { unit: 'each', custom: { [season]: 'Autumn' } }));
    expect(kept.custom).toEqual({ [season]: 'autumn' });
    const filter = JSON.stringify({ [`own_${season}`]: { op: 'equals', value: 'autumn' } });
    expect(await manager.call(catalogue.listItems, { query: { filter, sort: `-own_${season}` } })).toMatchObject({
      total: 1,
      rows: [{ code: 'STRIPS', [`own_${season}`]: 'autumn' }],
    });
    expect((await manager.call(catalogue.listItems, { query: { find: 'autumn' } })).total).toBe(1);
  });

  it('refuse what they can’t hold, and stay what they are once used', async () => {
    const strips = await item('STRIPS');
    expect(await manager.refused(catalogue.changeItem, change(strips, { unit: 'each', custom: { [season]: 'winter' } }))).toMatchObject({
      code: 'unknownChoice',
      errors: [{ field: `custom.${season}` }],
    });
    const field = (await manager.call(catalogue.getGround)).fields.find((each) => each.id === season);
    expect(await admin.refused(catalogue.saveField, { body: { ...field, type: 'text' } })).toMatchObject({ code: 'fieldInUse' });
    expect(await admin.refused(catalogue.saveField, { body: { ...field, choices: ['spring'] } })).toMatchObject({ code: 'choiceInUse' });
    expect(await manager.refused(catalogue.saveField, { body: { ...field } })).toMatchObject({ code: 'notAllowed' });
  });

  it('are on documents, too', async () => {
    const gate = (await manager.call(catalogue.choices)).fields.find((each) => each.title === 'Gate')?.id ?? 0;
    const lines = [{ itemId: company.id('item', 'SMOKER'), quantity: '1' }];
    const order = await manager.call(selling.createOrder, {
      body: { customerId: 1, warehouseId: 1, requiredDate: TODAY, lines, custom: { [gate]: '07' } },
    });
    expect(order.custom).toEqual({ [gate]: '7' });
    expect(
      await manager.refused(selling.createOrder, { body: { customerId: 1, warehouseId: 1, requiredDate: TODAY, lines, custom: { [gate]: 'left' } } }),
    ).toMatchObject({ code: 'notANumber' });
  });
});

describe('parties', () => {
  const people = {
    addresses: [{ label: 'Depot', address: 'Ring Road 5' }],
    contacts: [{ name: 'Una Fell', part: 'buying', email: 'una@hollin.example', phone: '' }],
  };
  it('have addresses, contacts, terms and limits, changed under a version', async () => {
    const made = await manager.call(catalogue.createCustomer, {
      body: { code: 'FELL', name: 'Fell End', group: 'SHOPS', taxCode: 'FULL', creditLimit: '5000', carrier: 'own van', ...people },
    });
    expect(made).toMatchObject({ taxRate: 2000, creditLimit: '5000.00', ...people });
    const changed = await manager.call(catalogue.changeCustomer, { params: { id: made.id }, body: { ...made, onHold: true, contacts: [] } });
    expect(changed).toMatchObject({ onHold: true, contacts: [], addresses: people.addresses });
    expect(await manager.refused(catalogue.changeCustomer, { params: { id: made.id }, body: made })).toMatchObject({ code: 'staleVersion' });
    expect(await manager.refused(catalogue.createCustomer, { body: { code: 'fell', name: 'x' } })).toMatchObject({ code: 'codeTaken' });
    expect(await manager.refused(catalogue.createCustomer, { body: { code: 'X', name: 'x', group: 'NOBODY' } })).toMatchObject({
      code: 'unknownChoice',
      errors: [{ field: 'group' }],
    });
    expect(await manager.refused(catalogue.createCustomer, { body: { code: 'X', name: 'x', creditLimit: '-1' } })).toMatchObject({
      code: 'negative',
    });
  });

  it('that sell show what they sell', async () => {
    const supplier = await manager.call(catalogue.getSupplier, { params: { id: company.id('supplier', 'METAL') } });
    expect(supplier.items.map((each) => each.code)).toContain('SMOKER');
    const changed = await manager.call(catalogue.changeSupplier, {
      params: { id: supplier.id },
      body: { ...supplier, leadDays: 9, calendar: 'STD' },
    });
    expect(changed).toMatchObject({ leadDays: 9, calendar: 'STD' });
  });

  it('whose tax code changes pay the new rate', async () => {
    const { id } = await manager.call(catalogue.createCustomer, { body: { code: 'TAXED', name: 'Taxed', taxCode: 'FULL' } });
    await admin.call(catalogue.saveTaxCode, { body: { code: 'FULL', name: 'Full rate', rate: '21' } });
    expect((await manager.call(catalogue.getCustomer, { params: { id } })).taxRate).toBe(2100);
  });
});

describe('after all of it', () => {
  it('ledger, journal and reservations still hold', () => company.sound());
});
