import '@angular/compiler';
import { DestroyRef, signal } from '@angular/core';
import { signalStore } from '@ngrx/signals';
import { Store } from '@ngrx/store';
import { BehaviorSubject, Subject } from 'rxjs';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { api, type LiveEvent } from '@terrace/contract';
import { liveFeature } from '../client/live.state';
import { Problem } from '../client/api-client';
import { FakeClient, storeWith } from '../testing/fake-client';
import { withRecord } from './record.store';

const { selling } = api;
interface Order {
  readonly id: number;
  readonly version: number;
}
const OrderStore = signalStore(withRecord<Order>(selling.getOrder, 'customerOrder', ({ version }) => (version < 9 ? ['plan'] : [])));
const heard = (more: Partial<LiveEvent>): LiveEvent => {
  return { topic: 'customerOrder', id: 7, userId: 2, who: 'Tobin', what: 'changed CO-1007', at: '2027-03-01T09:00:00Z', ...more };
};

describe('a record on the screen', () => {
  let client: FakeClient;
  let store: InstanceType<typeof OrderStore>;
  let live: Subject<LiveEvent | null>;
  let missed: BehaviorSubject<number>;
  let version: number;
  const tell = (event: LiveEvent): void => {
    live.next(event);
    vi.advanceTimersByTime(1000);
  };
  beforeEach(() => {
    vi.useFakeTimers();
    version = 1;
    client = new FakeClient();
    live = new Subject();
    missed = new BehaviorSubject(0);
    client.answer(selling.getOrder, (call) => ({ id: (call.params as { id: number }).id, version }));
    client.answer(selling.confirmOrder, () => ({ id: 7, version: 2 }));
    store = storeWith(OrderStore, client, [
      {
        provide: Store,
        useValue: { select: (of: unknown) => (of === liveFeature.selectMissed ? missed : live), selectSignal: () => signal({ user: { id: 1 } }) },
      },
      { provide: DestroyRef, useValue: { onDestroy: () => () => undefined } },
    ]);
    store.load(7);
  });
  afterEach(() => vi.useRealTimers());

  it('is loaded again when somebody else changes it, and says who', () => {
    version = 3;
    tell(heard({}));
    expect(store.record()).toEqual({ id: 7, version: 3 });
    expect(store.news()).toBe('Tobin: changed CO-1007');
    tell(heard({ id: 8 }));
    tell(heard({ topic: 'invoice' }));
    expect(client.asked).toHaveLength(2);
  });

  it('is no news where one has done it oneself, and many changes at once are one', () => {
    tell(heard({ userId: 1 }));
    expect(store.news()).toBe('');
    live.next(heard({ what: 'one' }));
    live.next(heard({ what: 'two' }));
    vi.advanceTimersByTime(1000);
    expect([client.asked.length, store.news()]).toEqual([3, 'Tobin: two']);
  });

  it('is loaded again when something may have been missed, and says nothing of it', () => {
    version = 4;
    missed.next(1);
    expect([store.record()?.version, store.news(), client.asked.length]).toEqual([4, '', 2]);
  });

  it('follows what it depends on as it stands, without a word and without losing one', () => {
    version = 3;
    live.next(heard({}));
    live.next(heard({ topic: 'plan', id: 0, userId: 0, what: 'promises' }));
    vi.advanceTimersByTime(1000);
    expect([store.record()?.version, store.news()]).toEqual([3, 'Tobin: changed CO-1007']);
    version = 9;
    tell(heard({ topic: 'plan', id: 0 }));
    expect([store.record()?.version, store.news()]).toEqual([9, 'Tobin: changed CO-1007']);
    version = 10;
    tell(heard({ topic: 'plan', id: 0 }));
    expect(store.record()?.version).toBe(9);
  });

  it('becomes what a command answers; a refusal stays while the record is loaded again', () => {
    let done = 0;
    const call = { params: { id: 7 }, body: { version: 1 } };
    store.perform(selling.confirmOrder, call, () => (done += 1));
    expect([store.record()?.version, done, store.busy()]).toEqual([2, 1, false]);
    client.refuse(selling.confirmOrder, new Problem('staleVersion', 'Tobin changed it meanwhile.', {}, {}));
    store.perform(selling.confirmOrder, call, () => (done += 1));
    expect([store.problem()?.code, done]).toEqual(['staleVersion', 1]);
    tell(heard({}));
    expect(store.problem()?.code).toBe('staleVersion');
    store.fail(null);
    expect(store.problem()).toBeNull();
  });

  it('is never what was asked for before a command, however late that is answered', () => {
    const late = new Subject<Order>();
    client.answer(selling.getOrder, () => late);
    store.reload();
    store.perform(selling.confirmOrder, { params: { id: 7 }, body: { version: 1 } });
    late.next({ id: 7, version: 1 });
    expect([store.record()?.version, store.loading()]).toEqual([2, false]);
  });

  it('hears what others do while a command is on its way, and loads it again after', () => {
    const late = new Subject<Order>();
    client.answer(selling.confirmOrder, () => late);
    store.perform(selling.confirmOrder, { params: { id: 7 }, body: { version: 1 } });
    version = 3;
    tell(heard({}));
    tell(heard({ topic: 'plan', id: 0, userId: 0, what: 'promises' }));
    expect([store.record()?.version, store.busy()]).toEqual([1, true]);
    late.next({ id: 7, version: 2 });
    expect([store.record()?.version, store.busy(), store.news()]).toEqual([3, false, 'Tobin: changed CO-1007']);
  });

  it('is the one that is looked at by now, whatever a command for another answers', () => {
    const late = new Subject<Order>();
    client.answer(selling.confirmOrder, () => late);
    store.perform(selling.confirmOrder, { params: { id: 7 }, body: { version: 1 } });
    store.load(8);
    late.next({ id: 7, version: 2 });
    expect([store.record()?.id, store.busy()]).toEqual([8, false]);
  });

  it('that can not be loaded says why, and what was there is gone only for another', () => {
    client.refuse(selling.getOrder, new Problem('notFound', 'There is no such order.', {}, {}));
    store.reload();
    expect([store.record()?.id, store.problem()?.code, store.loading()]).toEqual([7, 'notFound', false]);
    store.load(9);
    expect([store.record(), store.problem()?.code]).toEqual([null, 'notFound']);
  });
});
