import '@angular/compiler';
import { Router } from '@angular/router';
import { beforeEach, describe, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { FakeClient, storeWith } from '../testing/fake-client';
import { AdjustStore, combine, thereOf } from './adjust.store';

const item = {
  id: 7,
  code: 'JAR',
  description: 'Jar',
  unit: 'each',
  decimals: 0,
  sellPrice: '1',
  kind: 'stocked',
  buyUnit: null,
  sellUnit: null,
  packs: [],
  scanned: null,
};
const place = (binId: number, quantity: string, lot = '', state = 'available') => ({
  warehouseId: 1,
  warehouse: 'WORKS',
  binId,
  bin: `B-${binId}`,
  lot,
  lotId: null,
  expiry: null,
  serial: '',
  serialId: null,
  state,
  quantity,
});

describe('the change and the new quantity', () => {
  it.each([
    ['5', '10', 1, '15'],
    ['-3.5', '10', 1, '6.5'],
    ['12', '10', -1, '2'],
    ['0', '10', -1, '-10'],
    ['', '10', 1, ''],
    ['ten', '10', 1, ''],
  ] as const)('%s with %s there (%i) is %s', (text, there, sign, after) => expect(combine(text, there, sign)).toBe(after));
});

describe('an adjustment being typed', () => {
  let client: FakeClient;
  let store: InstanceType<typeof AdjustStore>;
  const gone: string[] = [];
  const begin = (tracking: 'none' | 'lot' = 'none', places = [place(1, '4'), place(2, '10'), place(2, '3', '', 'held')]): void => {
    client.answer(api.stores.places, () => places);
    client.answer(api.catalogue.getItem, () => ({ tracking }));
    store.add(item, 1, 1);
  };
  beforeEach(() => {
    client = new FakeClient();
    gone.length = 0;
    const router = { navigate: (to: readonly unknown[]) => gone.push(to.join('/')) };
    store = storeWith(AdjustStore, client, [{ provide: Router, useValue: router }]);
  });

  it('begins in the bin that holds most, and each of the two figures gives the other', () => {
    begin();
    expect(store.lines()[0]).toMatchObject({ binId: 2, state: 'available' });
    store.typeTarget(0, '8');
    expect(store.lines()[0]).toMatchObject({ change: '-2', target: '8' });
    store.place(0, { binId: 1 });
    expect(store.lines()[0]).toMatchObject({ change: '-2', target: '2' });
    store.place(0, { binId: 2, state: 'held' });
    expect(store.lines()[0]?.target).toBe('1');
  });

  it('looks at one lot where one is named', () => {
    begin('lot', [place(1, '4', 'A'), place(1, '6', 'B')]);
    const [line] = store.lines();
    if (!line) throw new Error('no line');
    expect(thereOf(line)).toBe('10');
    expect(thereOf({ ...line, pieces: [{ lot: 'B' }] })).toBe('6');
  });

  it('is sent as changes only when every line has one, and leads to the adjustment', () => {
    begin();
    expect(store.ready()).toBe(false);
    store.typeChange(0, '0');
    expect(store.ready()).toBe(false);
    store.typeChange(0, '-2');
    client.answer(api.stores.adjust, () => ({ id: 12, number: 'ADJ-1012' }));
    store.save({ warehouseId: 1, reason: 'BREAKAGE', note: 'fell', date: '' });
    const sent = client.asked.find((each) => each.path === api.stores.adjust.path)?.call.body;
    expect(sent).toEqual({ warehouseId: 1, reason: 'BREAKAGE', note: 'fell', lines: [{ itemId: 7, binId: 2, change: '-2', state: 'available' }] });
    expect(gone).toEqual(['/stores/adjustments/12']);
  });

  it('shows who holds what can’t be taken, and lets them be released there', () => {
    begin();
    store.typeChange(0, '-9');
    client.refuse(api.stores.adjust, new Problem('heldByOthers', 'CO-1 holds the rest', {}, {}));
    client.answer(api.stores.holders, () => [{ id: 3, warehouse: 'WORKS', document: 'CO-1', kind: 'customerOrder', documentId: 1, quantity: '8' }]);
    store.save({ warehouseId: 1, reason: 'BREAKAGE', note: 'fell', date: '' });
    expect(store.holders()).toHaveLength(1);
    expect(store.problem()?.code).toBe('heldByOthers');
    client.answer(api.stores.release, () => ({ released: '8' }));
    store.release(3);
    expect([store.holders(), store.problem()]).toEqual([[], null]);
    expect(store.lines()[0]?.change).toBe('-9');
  });
});
