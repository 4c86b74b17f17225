import '@angular/compiler';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { api, type ImportView } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { FakeClient, storeWith } from '../testing/fake-client';
import { ImportStore } from './import.store';

const view = (more: Partial<ImportView> = {}): ImportView => ({
  id: 4,
  number: 'IM-1004',
  kind: 'items',
  fileName: 'spring.csv',
  state: 'read',
  done: 0,
  rows: 3,
  counts: { added: 0, changed: 0, same: 0, refused: 0 },
  headings: [
    { heading: 'Our code', samples: [], column: '' },
    { heading: 'Text', samples: [], column: 'description' },
  ],
  columns: [
    { key: 'code', title: 'Code', needed: true, hint: '' },
    { key: 'description', title: 'Description', needed: true, hint: '' },
  ],
  decimals: 'comma',
  dates: 'dayFirst',
  problem: '',
  ...more,
});

describe('a file in hand', () => {
  let client: FakeClient;
  let store: InstanceType<typeof ImportStore>;
  beforeEach(() => {
    vi.useFakeTimers();
    client = new FakeClient();
    client.answer(api.bulk.listImports, () => []);
    client.answer(api.bulk.importRows, () => ({ rows: [{ row: 2, outcome: 'refused', name: 'X', what: 'no', field: 'code' }], total: 1 }));
    client.answerFile('/bulk/files/items', () => view());
    store = storeWith(ImportStore, client);
    store.send(new File([], 'spring.csv'));
  });
  afterEach(() => vi.useRealTimers());

  it('shows what came in before, and again once a file has been taken', () => {
    expect(store.past()).toEqual([]);
    client.answer(api.bulk.listImports, () => [{ id: 4, number: 'IM-1004', state: 'taken' }]);
    client.answer(api.bulk.takeImport, () => view({ state: 'taking' }));
    client.answer(api.bulk.getImport, () => view({ state: 'taken' }));
    store.take(false);
    vi.advanceTimersByTime(5000);
    expect(store.past().map((each) => each.number)).toEqual(['IM-1004']);
  });

  it('says which needed column nothing goes to, until something does', () => {
    expect(store.missing()).toEqual(['Code']);
    store.map('Our code', 'code');
    expect(store.missing()).toEqual([]);
  });

  it('lets one column of the file go to a place at a time', () => {
    store.map('Our code', 'description');
    expect(store.view()?.headings.map((each) => each.column)).toEqual(['description', '']);
  });

  it('is followed while it is tried, then shows what is refused', () => {
    client.answer(api.bulk.tryImport, () => view({ state: 'trying' }));
    client.answer(api.bulk.getImport, () => view({ state: 'tried', counts: { added: 2, changed: 0, same: 0, refused: 1 } }));
    store.map('Our code', 'code');
    store.tryOut();
    expect(store.running()).toBe(true);
    expect(client.asked.at(-1)?.call.body).toEqual({ mapping: { 'Our code': 'code', Text: 'description' }, decimals: 'comma', dates: 'dayFirst' });
    vi.advanceTimersByTime(500);
    expect(store.running()).toBe(false);
    expect(store.good()).toBe(2);
    expect([store.outcome(), store.rows()[0]?.name]).toEqual(['refused', 'X']);
  });

  it('keeps what was mapped where the server refuses', () => {
    client.refuse(api.bulk.tryImport, new Problem('columnsMissing', 'No column goes to "Code".', {}, {}));
    store.tryOut();
    expect(store.problem()?.code).toBe('columnsMissing');
    expect(store.busy()).toBe(false);
    expect(store.view()?.headings[1]?.column).toBe('description');
  });

  it('takes all or the good rows, as it is told', () => {
    client.answer(api.bulk.takeImport, () => view({ state: 'taken' }));
    store.take(true);
    expect(client.asked.find((each) => each.path === api.bulk.takeImport.path)?.call.body).toEqual({ goodOnly: true });
  });
});
