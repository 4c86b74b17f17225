/** Terms, rules, lots and adjustments that somebody corrects: what can't be is refused at its field, what changes is told. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, type ItemView } from '@terrace/contract';
import { openStoreRoom, type StoreRoom } from './testing/store-room';

const { catalogue, stores, platform } = api;
let room: StoreRoom;
let id: number;

beforeAll(async () => {
  room = await openStoreRoom();
  id = await room.newItem('HINGE');
});
afterAll(() => room.company.close());

const item = async (of = id): Promise<ItemView> => room.manager.call(catalogue.getItem, { params: { id: of } });

/** Refused with this code at this field, and nothing has changed. */
async function refuses(asked: () => ReturnType<StoreRoom['manager']['refused']>, code: string, field?: string): Promise<void> {
  const before = room.company.everything();
  const problem = await asked();
  expect([problem.code, field === undefined ? undefined : problem.errors?.[0]?.field], problem.detail).toEqual([code, field]);
  expect(room.company.everything()).toBe(before);
}

describe('a supplier’s terms', () => {
  const change = (fields: Record<string, unknown>) => ({ params: { id }, body: { supplierId: 1, price: '2.00', leadDays: 3, ...fields } as never });

  it.each([
    ['a price below nothing', { price: '-1' }, 'negative', 'price'],
    ['a price that is none', { price: 'cheap' }, 'notANumber', 'price'],
    ['a discount beyond all', { discount: '101' }, 'badShare', 'discount'],
    ['a minimum below nothing', { minimum: '-5' }, 'negative', 'minimum'],
    ['a multiple finer than the unit', { multiple: '2.5' }, 'tooFine', 'multiple'],
    ['a pack that the item has not', { buyUnit: 'pallet' }, 'unknownUnit', 'buyUnit'],
    ['an end before its beginning', { validFrom: '2027-05-01', validTo: '2027-04-01' }, 'badPeriod', 'validTo'],
    [
      'two prices from one quantity on',
      {
        breaks: [
          { from: '10', price: '1.80' },
          { from: '10', price: '1.70' },
        ],
      },
      'sameBreak',
      'breaks.1.from',
    ],
    ['a currency without a rate', { currency: 'XYZ' }, 'noRate', 'currency'],
  ])('%s are refused', (_, fields, code, field) => refuses(() => room.manager.refused(catalogue.setTerm, change(fields)), code, field));

  it('keep the version that somebody saw, and tell figure by figure what has changed', async () => {
    const [term] = (await item()).terms;
    if (!term) throw new Error('no terms');
    await room.manager.call(catalogue.setTerm, change({ id: term.id, version: term.version, price: '1.95', minimum: '20', discount: '2.5' }));
    await room.manager.call(catalogue.setTerm, change({ price: '1.95', minimum: '20', discount: '2.5', breaks: [{ from: '100', price: '1.60' }] }));
    const history = await room.manager.call(platform.history, { params: { kind: 'item', id } });
    const told = history.flatMap((line) => line.changes.map((each) => `${each.field}: ${each.from} → ${each.to}`));
    expect(told).toEqual(expect.arrayContaining(['price: 2.00 → 1.95', 'minimum: 0 → 20', 'discount: 0 → 2.5', 'breaks:  → from 100: 1.60']));
    await refuses(() => room.manager.refused(catalogue.setTerm, change({ id: term.id, version: term.version, price: '9.00' })), 'staleVersion');
    const same = room.company.everything();
    await room.manager.call(catalogue.setTerm, change({ price: '1.95', minimum: '20', discount: '2.5', breaks: [{ from: '100', price: '1.60' }] }));
    expect((await item()).terms).toHaveLength(1);
    expect((await item()).terms[0]?.version).toBe(term.version + 2);
    expect(same).not.toBe('');
  });

  it('that begin on a day which others begin on are those', async () => {
    const [term] = (await item()).terms;
    await room.manager.call(catalogue.setTerm, change({ validFrom: '2027-06-01', price: '2.40' }));
    const later = (await item()).terms.find((each) => each.validFrom === '2027-06-01');
    await refuses(
      () => room.manager.refused(catalogue.setTerm, change({ id: later?.id, version: later?.version, validFrom: term?.validFrom ?? null })),
      'periodTaken',
      'validFrom',
    );
  });
});

describe('a planning rule', () => {
  const rule = (fields: Record<string, unknown>) => ({
    params: { id },
    body: { warehouseId: 1, source: 'buy', leadDays: 0, safety: '0', minimum: '0', multiple: '0', slackDays: 0, ...fields } as never,
  });

  it.each([
    ['a safety stock below nothing', { safety: '-1' }, 'negative', 'safety'],
    ['a minimum finer than the unit', { minimum: '0.5' }, 'tooFine', 'minimum'],
    ['a most that is below its multiple', { multiple: '12', maximum: '10' }, 'badLevels', 'maximum'],
    ['no usable share', { usable: '0' }, 'badShare', 'usable'],
    ['more than all usable', { usable: '1.2' }, 'badShare', 'usable'],
    ['a service level of half', { safetyBy: { by: 'service', level: '0.5' } }, 'badShare', 'safetyBy'],
    ['orders of nothing', { lotSizing: { kind: 'fixed', quantity: '0' } }, 'negative', 'lotSizing'],
    ['a level to order at below nothing', { lotSizing: { kind: 'reorderPoint', point: '-2', quantity: '5' } }, 'negative', 'lotSizing'],
    ['a level to fill up to below the least', { lotSizing: { kind: 'minMax', min: '20', max: '10' } }, 'badLevels', 'lotSizing'],
    ['costs that are no sum', { lotSizing: { kind: 'leastCost', orderCost: 'low', holdingPerUnitDay: '0.1' } }, 'notANumber', 'lotSizing'],
    ['a transfer from itself', { source: 'transfer', fromId: 1 }, 'sameWarehouse', 'fromId'],
    ['a transfer from nowhere', { source: 'transfer', fromId: null }, 'sameWarehouse', 'fromId'],
  ])('with %s is refused', (_, fields, code, field) => refuses(() => room.manager.refused(api.planning.setRule, rule(fields)), code, field));

  it.each([
    [{ kind: 'reorderPoint', point: '0', quantity: '5' }],
    [{ kind: 'minMax', min: '0', max: '10' }],
    [{ kind: 'leastCost', orderCost: '25', holdingPerUnitDay: '0' }],
    [{ kind: 'period', days: 10 }],
  ])('is kept as %o', async (lotSizing) => {
    await room.manager.call(api.planning.setRule, rule({ lotSizing, maximum: '50', usable: '0.97' }));
    expect((await item()).rules[0]).toMatchObject({ lotSizing, maximum: '50', usable: '0.97' });
  });
});

describe('a lot', () => {
  it('is corrected once by each who saw it as it is, its history says from what to what', async () => {
    const wax = await room.newItem('SEALWAX', { tracking: 'lot' });
    await room.receive(wax, '10', '2.00', [{ lot: 'S-1', expiry: '2027-09-01' }]);
    const row = (await room.keeper.call(stores.listLots, { query: { item: wax } })).rows[0];
    const lot = await room.keeper.call(stores.getLot, { params: { id: row?.id ?? 0 } });
    const body = { version: lot.version, madeOn: '2027-01-10', expiry: '2027-10-01', supplierLot: 'theirs 7', note: 'label was torn' };
    const after = await room.keeper.call(stores.changeLot, { params: { id: lot.id }, body });
    expect(after).toMatchObject({ expiry: '2027-10-01', madeOn: '2027-01-10', supplierLot: 'theirs 7', version: lot.version + 1 });
    await refuses(() => room.keeper.refused(stores.changeLot, { params: { id: lot.id }, body }), 'staleVersion');
    await refuses(
      () => room.keeper.refused(stores.changeLot, { params: { id: lot.id }, body: { ...body, version: after.version, madeOn: '2027-11-01' } }),
      'badDate',
      'expiry',
    );
    const [line] = await room.keeper.call(platform.history, { params: { kind: 'lot', id: lot.id } });
    expect(line?.changes).toEqual(expect.arrayContaining([{ field: 'expiry', from: '2027-09-01', to: '2027-10-01' }]));
  });
});

describe('an adjustment', () => {
  const line = (more: Record<string, unknown>) => ({
    body: { warehouseId: 1, reason: 'BREAKAGE', note: 'counted', lines: [{ itemId: id, binId: 1, ...more }] } as never,
  });

  it.each([
    ['neither a change nor a new quantity', {}, 'oneOfTwo', 'lines.0.change'],
    ['both', { change: '1', newQuantity: '4' }, 'oneOfTwo', 'lines.0.change'],
    ['a new quantity below nothing', { newQuantity: '-1' }, 'negative', 'lines.0.newQuantity'],
    ['a change finer than the unit', { change: '0.5' }, 'tooFine', 'lines.0.change'],
    ['a cost below nothing', { change: '5', unitCost: '-3' }, 'negative', 'lines.0.unitCost'],
    ['what is in transit', { change: '1', state: 'inTransit' }, 'wrongState', 'lines.0.state'],
  ])('with %s is refused', (_, more, code, field) => refuses(() => room.keeper.refused(stores.adjust, line(more)), code, field));

  it('to a new quantity brings or takes what differs; nothing differing is no adjustment; taken back, all is there again', async () => {
    await room.receive(id, '10', '2.00');
    const adjusted = async (more: Record<string, unknown>) => {
      const { id: of } = await room.keeper.call(stores.adjust, line(more));
      return room.keeper.call(stores.getAdjustment, { params: { id: of } });
    };
    const down = await adjusted({ newQuantity: '7' });
    expect(down.lines).toMatchObject([{ code: 'HINGE', change: '-3', value: '-6.00' }]);
    await refuses(() => room.keeper.refused(stores.adjust, line({ newQuantity: '7' })), 'nothingChanges');
    const up = await adjusted({ newQuantity: '9', unitCost: '3.50' });
    expect(up.lines).toMatchObject([{ change: '2', value: '7.00' }]);
    expect(await room.worthOf('HINGE')).toBe('21.00');
    for (const { id: of } of [up, down]) expect((await room.keeper.call(stores.reverseAdjustment, { params: { id: of } })).reversed).toBe(true);
    // What came goes with what it brought: nothing has left since.
    const [place] = await room.keeper.call(stores.places, { params: { id } });
    expect([place?.quantity, await room.worthOf('HINGE')]).toEqual(['10', '20.00']);
    await refuses(() => room.keeper.refused(stores.reverseAdjustment, { params: { id: up.id } }), 'alreadyReversed');
    room.company.sound();
  });
});
