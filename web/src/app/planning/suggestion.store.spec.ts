import '@angular/compiler';
import { DestroyRef } from '@angular/core';
import { Store } from '@ngrx/store';
import { BehaviorSubject, of, Subject } from 'rxjs';
import { beforeEach, describe, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { liveFeature } from '../client/live.state';
import { FakeClient, storeWith } from '../testing/fake-client';
import { SuggestionStore } from './suggestion.store';

const { planning } = api;
const suggestion = { id: 'FRAME@WORKS#1', firmId: null, version: null, itemId: 8, warehouseId: 1, quantity: '50', due: '2027-03-09' };
const figures = { kind: 'make' as const, quantity: '60', placeBy: '2027-03-04', due: '2027-03-09', supplierId: null, fromId: null, note: '' };

describe('one suggestion', () => {
  let client: FakeClient;
  let store: InstanceType<typeof SuggestionStore>;
  /** What was heard last: told at once to whoever asks, as a store does. */
  let heard: BehaviorSubject<{ topic: string } | null>;
  beforeEach(() => {
    client = new FakeClient();
    heard = new BehaviorSubject<{ topic: string } | null>(null);
    client.answer(planning.getSuggestion, (call) => ({ ...suggestion, id: (call.query as { name: string }).name }));
    client.answer(planning.getRecord, () => ({ events: [] }));
    client.answer(planning.keepSuggestion, () => ({ id: 3, number: 'FP-1003' }));
    client.answer(planning.changeFirm, () => ({ id: 3, number: 'FP-1003' }));
    client.answer(planning.dropFirm, () => ({}));
    client.answer(planning.ignoreSuggestions, () => ({}));
    store = storeWith(SuggestionStore, client, [
      { provide: Store, useValue: { select: (chosen: unknown) => (chosen === liveFeature.selectLast ? heard : of(0)) } },
      { provide: DestroyRef, useValue: { onDestroy: () => () => undefined } },
    ]);
    store.load('FRAME@WORKS#1');
  });
  const last = (): { path: string; body: unknown } => ({ path: client.asked.at(-1)?.path ?? '', body: client.asked.at(-1)?.call.body });

  it('comes with what the plan counts with for its item, and again whenever the plan has changed', () => {
    expect(client.asked.map((each) => each.path)).toEqual(['/planning/suggestion', '/planning/records/:itemId/:warehouseId']);
    heard.next({ topic: 'item' });
    expect(client.asked).toHaveLength(2);
    heard.next({ topic: 'plan' });
    expect(client.asked).toHaveLength(4);
  });

  it('says so when the plan has dropped it, and keeps on the screen what it was', () => {
    client.refuse(planning.getSuggestion, new Problem('notFound', 'There is no such suggestion.', {}, {}));
    heard.next({ topic: 'plan' });
    expect(store.gone()).toBe(true);
    expect(store.problem()).toBeNull();
    expect(store.suggestion()?.quantity).toBe('50');
  });

  it('is the one that is pointed at by now, whatever comes late of another', () => {
    const [late, record] = [new Subject(), new Subject()];
    client.answer(planning.getSuggestion, () => late);
    store.load('GONE@WORKS#1');
    client.answer(planning.getSuggestion, () => ({ ...suggestion, id: 'BAR@WORKS#2', itemId: 9 }));
    client.answer(planning.getRecord, () => record);
    store.load('BAR@WORKS#2');
    late.error(new Problem('notFound', 'There is no such suggestion.', {}, {}));
    client.answer(planning.getSuggestion, () => ({ ...suggestion, id: 'LID@WORKS#1', itemId: 10 }));
    client.answer(planning.getRecord, () => ({ events: ['of the lid'] }));
    store.load('LID@WORKS#1');
    record.next({ events: ['of the bar'] });
    expect([store.suggestion()?.itemId, store.record()?.events, store.gone()]).toEqual([10, ['of the lid'], false]);
  });

  it('is kept under a number with the figures typed', () => {
    let number = '';
    store.keep(figures, (given) => (number = given));
    expect(last()).toEqual({ path: '/planning/firm', body: { ...figures, name: 'FRAME@WORKS#1', seq: 0 } });
    expect(number).toBe('FP-1003');
    expect(store.busy()).toBe(false);
  });

  it('once kept, is changed by its version, or left to the plan', () => {
    client.answer(planning.getSuggestion, () => ({ ...suggestion, id: 'FP-1003', firmId: 3, version: 2 }));
    store.load('FP-1003');
    store.keep(figures, () => undefined);
    expect(last()).toEqual({ path: '/planning/firm/:id', body: { ...figures, version: 2 } });
    store.leave();
    expect(last().path).toBe('/planning/firm/:id/drop');
    expect(store.gone()).toBe(true);
  });

  it('leaves nothing half done where it is refused', () => {
    client.refuse(planning.keepSuggestion, new Problem('tooFine', 'Take 1 or 2.', { quantity: 'Take 1 or 2.' }, {}));
    let kept = false;
    store.keep(figures, () => (kept = true));
    expect([kept, store.busy(), store.problem()?.fields['quantity']]).toEqual([false, false, 'Take 1 or 2.']);
    store.putAside('2027-04-01', 'prices');
    expect(last().body).toEqual({ itemId: 8, warehouseId: 1, until: '2027-04-01', note: 'prices' });
    expect(store.problem()).toBeNull();
  });
});
