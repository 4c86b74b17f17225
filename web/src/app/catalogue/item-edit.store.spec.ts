import '@angular/compiler';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { api, type ItemView } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { FakeClient, storeWith } from '../testing/fake-client';
import { ItemEditStore } from './item-edit.store';

const goods = { unit: { value: 'each', group: 'ALL' }, discountCeiling: { value: '20', group: 'GOODS' } };
const feed = { unit: { value: 'kg', group: 'FEED' }, discountCeiling: { value: '5', group: 'FEED' }, shelfLifeDays: { value: '365', group: 'FEED' } };
const kept = {
  id: 7,
  code: 'CANDY',
  description: 'Candy',
  group: 'GOODS',
  kind: 'stocked',
  unit: 'each',
  tracking: 'none',
  costing: 'movingAverage',
  discountCeiling: '20',
  shelfLifeDays: 90,
  restLifeDays: null,
  storageOverhead: '0',
  secondCode: null,
  barcodes: [],
  packs: [],
  sizes: [],
  buyUnit: null,
  sellUnit: null,
  countUnit: null,
  sellPrice: '4.00',
  buyPrice: '0.00',
  standardCost: '0.00',
  sellingNotes: '',
  manufacturer: '',
  originCountry: '',
  commodityCode: '',
  custom: {},
  origins: { unit: 'ALL', discountCeiling: 'GOODS' },
  given: goods,
  locks: { unit: 'Stock of it has moved' },
  version: 4,
  active: true,
} as unknown as ItemView;

describe('the item in hand', () => {
  let client: FakeClient;
  let store: InstanceType<typeof ItemEditStore>;
  const bodyOf = (path: string) => client.asked.findLast((each) => each.path === path)?.call.body as Record<string, unknown>;
  beforeEach(() => {
    vi.useFakeTimers();
    client = new FakeClient();
    client.answer(api.catalogue.groupGives, (call) => ((call.query as { group: string }).group === 'FEED' ? feed : goods));
    client.answer(api.catalogue.getItem, () => kept);
    client.answer(api.catalogue.likeItems, () => [
      { id: 9, code: 'FUDGE', description: 'Candy', group: 'GOODS', active: true, why: 'has nearly the same description' },
    ]);
    client.answer(api.catalogue.createItem, () => kept);
    client.answer(api.catalogue.changeItem, () => kept);
    store = storeWith(ItemEditStore, client);
  });
  afterEach(() => vi.useRealTimers());

  it('shows what its group gives, and sends of it only what was typed', () => {
    store.set({ code: 'NEW', description: 'New' });
    store.chooseGroup('GOODS');
    expect(store.unit()).toBe('each');
    store.type('discountCeiling', '12');
    store.save(() => undefined);
    expect(bodyOf(api.catalogue.createItem.path)).toMatchObject({ code: 'NEW', group: 'GOODS', discountCeiling: '12' });
    expect(bodyOf(api.catalogue.createItem.path)).not.toHaveProperty('unit');
  });

  it('follows its group again once what was typed is taken back', () => {
    store.chooseGroup('GOODS');
    store.type('discountCeiling', '12');
    store.type('discountCeiling', undefined);
    expect(store.draft().typed).toEqual({});
  });

  it('is compared with what is there, once the typing pauses', () => {
    store.set({ description: 'Cand' });
    store.set({ description: 'Candy' });
    expect(store.like()).toEqual([]);
    vi.advanceTimersByTime(400);
    expect(store.like().map((each) => each.code)).toEqual(['FUDGE']);
    expect(client.asked.filter((each) => each.path === api.catalogue.likeItems.path)).toHaveLength(1);
  });

  it('asks, in another group, for each value that differs whether it comes along', () => {
    store.load(7, false);
    store.chooseGroup('FEED');
    expect(store.moving()).toEqual([
      // Fixed: what the stores count by stays, whatever the group says.
      { field: 'unit', from: 'each', to: 'kg', follows: true, take: false },
      { field: 'discountCeiling', from: '20', to: '5', follows: true, take: true },
      { field: 'shelfLifeDays', from: '90', to: '365', follows: false, take: false },
    ]);
    store.takeAlong('shelfLifeDays', true);
    store.save(() => undefined);
    const body = bodyOf(api.catalogue.changeItem.path);
    expect(body).toMatchObject({ group: 'FEED', unit: 'each', version: 4 });
    expect(body).not.toHaveProperty('shelfLifeDays');
    expect(body).not.toHaveProperty('discountCeiling');
  });

  it('asks nothing where it goes back to the group it is in', () => {
    store.load(7, false);
    store.chooseGroup('FEED');
    store.chooseGroup('GOODS');
    expect(store.moving()).toEqual([]);
  });

  it('keeps what was typed when another has saved meanwhile, and takes what they changed', () => {
    store.load(7, false);
    store.set({ sellPrice: '4.50' });
    client.refuse(api.catalogue.changeItem, new Problem('staleVersion', 'Tobin changed it meanwhile.', {}, {}));
    store.save(() => expect.unreachable());
    client.answer(api.catalogue.getItem, () => ({ ...kept, description: 'Candy, white', version: 5 }));
    client.answer(api.catalogue.changeItem, () => kept);
    store.rebase();
    expect([store.draft().description, store.draft().sellPrice, store.problem()]).toEqual(['Candy, white', '4.50', null]);
    store.save(() => undefined);
    expect(bodyOf(api.catalogue.changeItem.path)).toMatchObject({ description: 'Candy, white', sellPrice: '4.50', version: 5 });
  });

  it('as a copy is a new item without code and barcodes', () => {
    store.load(7, true);
    expect(store.item()).toBeNull();
    expect(store.draft()).toMatchObject({ code: '', description: 'Candy', sellPrice: '4.00' });
  });

  it('keeps what was typed where it is refused, and says at which field', () => {
    client.refuse(api.catalogue.createItem, new Problem('codeTaken', 'The code CANDY belongs to "Candy" already.', { code: 'taken' }, {}));
    store.set({ code: 'CANDY', description: 'Candy' });
    store.save(() => expect.unreachable());
    expect(store.fields()).toEqual({ code: 'taken' });
    expect([store.busy(), store.draft().code]).toEqual([false, 'CANDY']);
  });
});
