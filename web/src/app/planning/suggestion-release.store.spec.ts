import '@angular/compiler';
import { beforeEach, describe, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { FakeClient, storeWith } from '../testing/fake-client';
import { ReleaseStore } from './suggestion-release.store';

const { planning } = api;
const chosen = [{ name: 'FRAME@WORKS#1', seen: { quantity: '50', due: '2027-03-09' } }];
const document = { kind: 'productionOrder', id: null, number: null, partner: 'Frame', warehouse: 'WORKS', total: '0.00', lines: [] };

describe('releasing suggestions', () => {
  let client: FakeClient;
  let store: InstanceType<typeof ReleaseStore>;
  beforeEach(() => {
    client = new FakeClient();
    client.answer(planning.getPlan, () => ({ seq: 7 }));
    client.answer(planning.previewRelease, () => ({ documents: [document] }));
    client.answer(planning.release, () => ({ documents: [{ ...document, id: 5, number: 'PRD-1005' }] }));
    store = storeWith(ReleaseStore, client);
    store.choose(chosen);
  });

  it('looks first, at the plan as it is now, and makes nothing by looking', () => {
    store.look(true);
    expect(client.asked.map((each) => each.path)).toEqual(['/planning/plan', '/planning/release/preview']);
    expect(client.asked[1]?.call.body).toEqual({ seq: 7, suggestions: chosen, withLevels: true });
    expect(store.preview()).toHaveLength(1);
    expect(store.made()).toEqual([]);
  });

  it('makes what was looked at, then has nothing chosen', () => {
    store.look(false);
    store.release(false);
    expect(client.asked.at(-1)?.call.body).toEqual({ seq: 7, suggestions: chosen, withLevels: false });
    expect(store.made().map((each) => each.number)).toEqual(['PRD-1005']);
    expect(store.preview()).toBeNull();
    expect(store.chosen()).toEqual([]);
    store.forget();
    expect(store.made()).toEqual([]);
  });

  it('keeps what is chosen where the plan says otherwise by now', () => {
    client.refuse(planning.release, new Problem('staleVersion', 'FRAME@WORKS#1 is now 60.', {}, {}));
    store.look(false);
    store.release(false);
    expect(store.problem()?.code).toBe('staleVersion');
    expect(store.chosen()).toEqual(chosen);
    expect(store.busy()).toBe(false);
    expect(store.preview()).toBeNull();
    store.look(false);
    expect(store.problem()).toBeNull();
  });
});
