import '@angular/compiler';
import { beforeEach, describe, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { FakeClient, storeWith } from '../testing/fake-client';
import { ItemListStore, appliedTo } from './item-list.store';

const row = (id: number, sellPrice: string) => ({ id, code: `I-${id}`, description: `Item ${id}`, sellPrice, version: 3, active: true });
const [one, two] = [row(1, '10.00'), row(2, '19.99')];

describe('a value given to a price', () => {
  it.each([
    ['10.00', '12', '12'],
    ['10.00', '+5 %', '10.50'],
    ['19.99', '-10%', '17.99'],
    ['0.62', '+4 %', '0.64'],
    ['10.00', 'dear', 'dear'],
  ])('%s by %s is %s', (current, value, after) => expect(appliedTo(current, value)).toBe(after));
});

describe('changes typed into the item list', () => {
  let client: FakeClient;
  let store: InstanceType<typeof ItemListStore>;
  beforeEach(() => {
    client = new FakeClient();
    store = storeWith(ItemListStore, client);
    store.begin();
  });

  it('gather by item and field, the last of a cell counting', () => {
    store.type({ row: one, field: 'sellPrice', value: '11' });
    store.type({ row: one, field: 'sellPrice', value: '12' });
    store.type({ row: two, field: 'description', value: 'Other' });
    expect([...store.pending()]).toEqual([
      [1, { sellPrice: '12' }],
      [2, { description: 'Other' }],
    ]);
  });

  it('are none where a cell is back at what is kept', () => {
    store.type({ row: one, field: 'sellPrice', value: '12' });
    store.type({ row: one, field: 'sellPrice', value: '10.00' });
    expect(store.pending().size).toBe(0);
  });

  it('are given to all chosen at once, and taken back at once', () => {
    store.choose([one, two]);
    store.apply('sellPrice', '+10 %');
    expect(store.pending().get(2)).toEqual({ sellPrice: '21.99' });
    store.apply('sellPrice', '+10 %');
    expect(store.pending().get(1)).toEqual({ sellPrice: '12.10' });
    store.undo();
    expect(store.pending().get(1)).toEqual({ sellPrice: '11.00' });
    store.undo();
    expect(store.pending().size).toBe(0);
  });

  it('are saved in one command with the versions that were seen', () => {
    client.answer(api.catalogue.changeItems, () => ({ changed: 2 }));
    store.choose([one, two]);
    store.apply('manufacturer', 'Cragley');
    let saved = 0;
    store.save((changed) => (saved = changed));
    expect(saved).toBe(2);
    expect(client.asked[0]?.call.body).toEqual({
      changes: [
        { id: 1, version: 3, fields: { manufacturer: 'Cragley' } },
        { id: 2, version: 3, fields: { manufacturer: 'Cragley' } },
      ],
    });
    expect(store.pending().size).toBe(0);
  });

  it('stay where they are refused, the refusal naming the item', () => {
    client.refuse(api.catalogue.changeItems, new Problem('notANumber', '"dear" is not a number.', { 'changes.1.sellPrice': 'no' }, {}));
    store.choose([one, two]);
    store.apply('sellPrice', 'dear');
    store.save(() => expect.unreachable());
    expect(store.problem()?.message).toBe('I-2, sellPrice: "dear" is not a number.');
    expect(store.pending().size).toBe(2);
  });

  it('are not sent while there are none', () => {
    store.save(() => expect.unreachable());
    expect(client.asked).toEqual([]);
  });
});
