import '@angular/compiler';
import { describe, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { FakeClient, storeWith } from '../testing/fake-client';
import { TodayStore } from './today.store';

describe('what waits today', () => {
  it('is told apart from what does not, and stays on the screen when the server does not answer', () => {
    const client = new FakeClient();
    const store = storeWith(TodayStore, client);
    expect([store.waiting(), store.nothing()]).toEqual([[], []]);
    const waiting = [
      { label: 'Orders to confirm', count: 2 },
      { label: 'Picks due', count: 0 },
      { label: 'Promises in danger', count: 1 },
    ];
    client.answer(api.platform.today, () => ({ waiting, figures: [] }));
    store.load();
    expect(store.waiting().map((each) => each.label)).toEqual(['Orders to confirm', 'Promises in danger']);
    expect(store.nothing()).toEqual(['picks due']);
    client.refuse(api.platform.today, new Problem('noAnswer', 'The server does not answer.', {}, {}));
    store.load();
    expect([store.waiting().length, store.problem()?.code]).toEqual([2, 'noAnswer']);
    client.answer(api.platform.today, () => ({ waiting: [], figures: [] }));
    store.load();
    expect(store.problem()).toBeNull();
  });
});
