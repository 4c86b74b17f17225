import '@angular/compiler';
import { describe, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { FakeClient, storeWith } from '../testing/fake-client';
import { RulesStore } from './rules.store';

const row = (id: number, code: string) => ({ id, code, leadDays: '3', safety: '0', sizing: 'lot-for-lot', version: 2 });
const [felt, wax] = [row(4, 'FELT'), row(9, 'WAX')];

function editing() {
  const client = new FakeClient();
  const store = storeWith(RulesStore, client);
  store.begin();
  return { client, store };
}

describe('planning rules edited in the list', () => {
  it('give all chosen rows a figure, and are sent together with the version that was seen', () => {
    const { client, store } = editing();
    client.answer(api.planning.changeRules, () => ({ changed: 2 }));
    store.choose([felt, wax]);
    store.apply('safety', '95 % served');
    store.type({ row: wax, field: 'leadDays', value: '' });
    let saved = 0;
    store.save((changed) => (saved = changed));
    expect(client.asked[0]?.call.body).toEqual({
      changes: [
        { id: 4, version: 2, fields: { safety: '95 % served' } },
        { id: 9, version: 2, fields: { safety: '95 % served', leadDays: '' } },
      ],
    });
    expect(saved).toBe(2);
    expect(store.pending().size).toBe(0);
  });

  it('stay where one is refused, which is named', () => {
    const { client, store } = editing();
    client.refuse(api.planning.changeRules, new Problem('badSizing', 'No way to size orders.', { 'changes.1.sizing': 'No way.' }, {}));
    store.type({ row: felt, field: 'leadDays', value: '5' });
    store.type({ row: wax, field: 'sizing', value: 'often' });
    store.save(() => undefined);
    expect(store.problem()?.message).toBe('WAX, sizing: No way to size orders.');
    expect(store.pending().size).toBe(2);
    store.undo();
    expect([...store.pending().keys()]).toEqual([4]);
  });
});
