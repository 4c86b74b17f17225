import '@angular/compiler';
import { delay, type Observable } from 'rxjs';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { api, type AnyRoute } from '@terrace/contract';
import { Problem, type Call } from '../client/api-client';
import { FakeClient, storeWith } from '../testing/fake-client';
import { StockPanelStore } from './stock-panel.store';

const { stores } = api;
const line = { binId: 1, toBinId: 2, state: 'available', toState: 'held', quantity: '3', lot: '', serial: '' } as const;

describe('one item’s stock', () => {
  let client: FakeClient;
  let store: InstanceType<typeof StockPanelStore>;
  beforeEach(() => {
    client = new FakeClient();
    client.answer(stores.strip, (call) => ({ item: { id: (call.query as { item: number }).item } }));
    client.answer(stores.places, () => [{ bin: 'A-01' }]);
    client.answer(stores.holders, () => [{ id: 5 }, { id: 6 }]);
    client.answer(stores.when, () => ({ periods: [] }));
    client.answer(stores.variants, () => ({ rows: [] }));
    client.answer(stores.howMany, () => ({ most: '4' }));
    client.answer(stores.release, () => ({}));
    client.answer(stores.relocate, () => ({}));
    store = storeWith(StockPanelStore, client);
    store.load(8, 1);
  });
  const paths = (): string[] => client.asked.map((each) => each.path);

  it('comes with its strip, places and holders; a face is asked for when it is turned to', () => {
    expect(paths()).toEqual([stores.strip.path, stores.places.path, stores.holders.path]);
    store.turn('when');
    store.sum('month');
    expect(client.asked.at(-1)?.call.query).toEqual({ warehouse: 1, length: 'month' });
    store.look(true);
    expect(client.asked.at(-1)?.call.query).toEqual({ warehouse: undefined, length: 'month' });
    store.turn('howMany');
    expect(store.buildable()).toEqual({ most: '4' });
    store.turn('which');
    expect(store.variants()).toEqual({ rows: [] });
  });

  it('keeps no answer for an item that somebody has left meanwhile', () => {
    vi.useFakeTimers();
    const slow = new (class extends FakeClient {
      override call(route: AnyRoute, call: Call<AnyRoute> = {}): Observable<unknown> {
        return super.call(route, call).pipe(delay((call.query as { item?: number } | undefined)?.item === 9 ? 50 : 10));
      }
    })();
    slow.answer(stores.strip, (call) => ({ item: { id: (call.query as { item: number }).item } }));
    const other = storeWith(StockPanelStore, slow);
    other.load(9, 1);
    other.load(10, 1);
    vi.advanceTimersByTime(100);
    expect(other.strip()?.item.id).toBe(10);
    vi.useRealTimers();
  });

  it('releases a holder once the server has', () => {
    store.release(5);
    expect(store.holders().map((each) => each.id)).toEqual([6]);
    client.refuse(stores.release, new Problem('notAllowed', 'Your role may not do this.', {}, {}));
    store.release(6);
    expect(store.holders().map((each) => each.id)).toEqual([6]);
    expect(store.problem()?.code).toBe('notAllowed');
  });

  it('moves stock with its lot or number, and shows it where it is then', () => {
    let moved = 0;
    store.relocate(line, 'FOUND', () => (moved += 1));
    expect(client.asked.find((each) => each.path === stores.relocate.path)?.call.body).toMatchObject({
      reason: 'FOUND',
      lines: [{ itemId: 8, binId: 1, toBinId: 2, toState: 'held', quantity: '3', pieces: undefined }],
    });
    expect([moved, store.busy()]).toEqual([1, false]);
    store.relocate({ ...line, lot: 'L-7' }, '', () => undefined);
    store.relocate({ ...line, lot: 'L-7', serial: 'S-1 S-2' }, '', () => undefined);
    const pieces = client.asked
      .filter((each) => each.path === stores.relocate.path)
      .slice(1)
      .map((each) => (each.call.body as { lines: { pieces: unknown }[] }).lines[0]?.pieces);
    expect(pieces).toEqual([[{ lot: 'L-7' }], [{ serials: 'S-1 S-2' }]]);
  });

  it('says why it could not be moved, and does not say that it was', () => {
    let moved = 0;
    client.refuse(stores.relocate, new Problem('notEnough', 'Only 2 are in A-01.', { 'lines.0.quantity': 'Only 2 are in A-01.' }, {}));
    store.relocate(line, '', () => (moved += 1));
    expect([moved, store.busy(), store.problem()?.message]).toEqual([0, false, 'Only 2 are in A-01.']);
  });
});
