import '@angular/compiler';
import { signal, type WritableSignal } from '@angular/core';
import { TestBed, getTestBed } from '@angular/core/testing';
import { BrowserTestingModule, platformBrowserTesting } from '@angular/platform-browser/testing';
import { Router } from '@angular/router';
import { provideState, provideStore } from '@ngrx/store';
import { Subject, of, throwError } from 'rxjs';
import { beforeEach, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { api, type AnyRoute } from '@terrace/contract';
import { Problem } from '../../client/api-client';
import { sessionFeature } from '../../client/session.state';
import { beginsAt, entryOf, overRecord, type Entry } from './entry';
import { Leaving } from './leaving';

interface Draft {
  readonly code: string;
  readonly warehouseId: number;
  readonly lines: readonly { readonly quantity: string }[];
}

const EMPTY: Draft = { code: '', warehouseId: 0, lines: [] };
const route: AnyRoute = {
  ...api.catalogue.createItem,
  body: z.object({ code: z.string().min(1, 'Type a code.'), lines: z.array(z.object({ quantity: z.string().regex(/^\d+$/, 'Give a figure.') })) }),
};
let draft: WritableSignal<Draft>;

function begin(url = '/things/new'): Entry<Draft> {
  const bed = getTestBed();
  bed.resetTestEnvironment();
  bed.initTestEnvironment(BrowserTestingModule, platformBrowserTesting());
  TestBed.configureTestingModule({ providers: [provideStore({}), provideState(sessionFeature), { provide: Router, useValue: { url } }] });
  draft = signal(EMPTY);
  const entry = TestBed.runInInjectionContext(() => entryOf({ draft, route: () => route }));
  TestBed.tick();
  return entry;
}
const type = (change: Partial<Draft>): void => {
  draft.update((now) => ({ ...now, ...change }));
  TestBed.tick();
};
const refusal = (fields: Readonly<Record<string, string>>) => throwError(() => new Problem('badInput', 'Some of it is wrong.', fields, {}));

beforeEach(() => sessionStorage.clear());

describe('what is entered', () => {
  it('is told what the contract says of a field once that is left, and not before', () => {
    const entry = begin();
    type({ lines: [{ quantity: 'two' }] });
    expect(entry.refused()).toEqual({});
    entry.fields.code().markAsTouched();
    expect(entry.refused()).toEqual({ code: 'Type a code.' });
    entry.fields.lines[0]?.quantity().markAsTouched();
    expect(entry.refused()).toEqual({ code: 'Type a code.', 'lines.0.quantity': 'Give a figure.' });
    type({ code: 'OAK', lines: [{ quantity: '2' }] });
    expect(entry.refused()).toEqual({});
    expect(entry.fields().valid()).toBe(true);
  });

  it('is refused by the server at the field that it names, until that is changed', () => {
    const entry = begin();
    type({ code: 'OAK', lines: [{ quantity: '2' }, { quantity: '3' }] });
    entry.send(refusal({ code: 'OAK is taken.', 'lines.1.quantity': 'Too many.', elsewhere: 'Not here.' }), () => expect.unreachable());
    TestBed.tick();
    expect(entry.refused()).toEqual({ code: 'OAK is taken.', 'lines.1.quantity': 'Too many.', elsewhere: 'Not here.' });
    expect(entry.fields.code().errors()).toMatchObject([{ message: 'OAK is taken.' }]);
    expect(entry.fields.lines[1]?.quantity().errors()).toMatchObject([{ message: 'Too many.' }]);
    // What is no field of it is said of the whole.
    expect(entry.fields().errors()).toMatchObject([{ message: 'Not here.' }]);
    type({ code: 'OAK-2' });
    expect(entry.refused()).toEqual({ 'lines.1.quantity': 'Too many.', elsewhere: 'Not here.' });
    expect(entry.busy()).toBe(false);
  });

  it('is sent once at a time', () => {
    const entry = begin();
    const answer = new Subject<number>();
    const heard: number[] = [];
    let asked = 0;
    const call = new (class extends Subject<number> {})();
    call.subscribe = ((observer: object) => {
      asked += 1;
      return answer.subscribe(observer);
    }) as never;
    entry.send(call, (id) => heard.push(id));
    entry.send(call, (id) => heard.push(id));
    expect([asked, entry.busy()]).toEqual([1, true]);
    answer.next(7);
    expect([heard, entry.busy()]).toEqual([[7], false]);
  });

  it('takes nothing, and is not sent, before what is to be changed has come; then one begins to type', () => {
    begin();
    const [there, asked, focused] = [signal(false), [] as number[], [] as string[]];
    const entry = TestBed.runInInjectionContext(() => entryOf({ draft, route: () => route, ready: there }));
    TestBed.runInInjectionContext(() => beginsAt(entry, () => ({ focus: () => focused.push('code') })));
    TestBed.tick();
    entry.send(of(1), (id) => asked.push(id));
    expect([entry.fields.code().disabled(), asked, focused]).toEqual([true, [], []]);
    there.set(true);
    TestBed.tick();
    entry.send(of(1), (id) => asked.push(id));
    expect([entry.fields.code().disabled(), asked, focused]).toEqual([false, [1], ['code']]);
  });

  it('is typed where it differs from what it began with; what is set for the person is not', () => {
    const entry = begin();
    entry.preset({ warehouseId: 2 });
    expect([draft().warehouseId, entry.typed()]).toEqual([2, false]);
    type({ warehouseId: 3 });
    expect(entry.typed()).toBe(true);
    entry.preset({ warehouseId: 4, code: 'NEW' });
    expect([draft().warehouseId, draft().code]).toEqual([3, 'NEW']);
    entry.begin({ ...EMPTY, code: 'OAK' });
    expect([draft().code, entry.typed()]).toEqual(['OAK', false]);
  });

  it('is there again after a reload at the same address, until it is saved or thrown away', () => {
    begin();
    type({ code: 'OAK' });
    expect([begin('/things/8').again(), draft().code]).toEqual([false, '']);
    const again = begin();
    expect([again.again(), draft().code, again.typed()]).toEqual([true, 'OAK', true]);
    again.drop();
    TestBed.tick();
    expect(draft().code).toBe('');
    expect(begin().again()).toBe(false);
    type({ code: 'ASH' });
    begin().send(of(1), () => undefined);
    expect(begin().again()).toBe(false);
  });

  it('goes on top of a record that another has changed meanwhile', () => {
    const first = begin('/things/7');
    first.begin({ ...EMPTY, code: 'OAK', warehouseId: 1 });
    type({ code: 'OAK-2' });
    const second = begin('/things/7');
    second.begin({ ...EMPTY, code: 'OAK', warehouseId: 9 });
    expect([draft().code, draft().warehouseId]).toEqual(['OAK-2', 9]);
  });
});

describe('a part of a page', () => {
  const beginPart = (part: () => string, more: { readonly place?: (place: string) => string; readonly off?: () => boolean } = {}): Entry<Draft> => {
    begin();
    draft = signal(EMPTY);
    const entry = TestBed.runInInjectionContext(() =>
      entryOf({ part, draft, route: () => (more.off?.() === true ? null : route), ...(more.place ? { place: more.place } : {}) }),
    );
    TestBed.tick();
    return entry;
  };

  it('is kept by itself, and waits after a reload until it is begun again, on top of what it begins with', () => {
    const terms = beginPart(() => 'terms');
    terms.begin({ ...EMPTY, code: 'OAK', warehouseId: 1 });
    type({ code: 'OAK-2' });
    expect(beginPart(() => 'rules').waiting()).toBeNull();
    const again = beginPart(() => 'terms');
    expect([again.waiting(), again.typed(), draft().code]).toEqual([{ ...EMPTY, code: 'OAK', warehouseId: 1 }, false, '']);
    again.begin({ ...EMPTY, code: 'OAK', warehouseId: 9 });
    expect([draft(), again.typed(), again.waiting()]).toEqual([{ ...EMPTY, code: 'OAK-2', warehouseId: 9 }, true, null]);
    again.settle();
    expect(beginPart(() => 'terms').waiting()).toBeNull();
  });

  it('is kept by the record that it is of, and there again when that is looked at again', () => {
    const at = signal(1);
    const entry = beginPart(() => `order ${at()}`);
    entry.begin({ ...EMPTY, code: 'A' });
    type({ code: 'AA' });
    at.set(2);
    entry.begin({ ...EMPTY, code: 'B' });
    TestBed.tick();
    expect([draft().code, entry.typed()]).toEqual(['B', false]);
    at.set(1);
    entry.begin({ ...EMPTY, code: 'A' });
    expect([draft().code, entry.typed()]).toEqual(['AA', true]);
  });

  it('has rules only while it is entered, and says what is refused where it stands in the draft', () => {
    const off = signal(true);
    const entry = beginPart(() => 'code', { off, place: (place) => (place === 'name' ? 'code' : place) });
    entry.fields.code().markAsTouched();
    expect(entry.refused()).toEqual({});
    off.set(false);
    expect(entry.refused()).toEqual({ code: 'Type a code.' });
    type({ code: 'OAK' });
    entry.send(refusal({ name: 'OAK is taken.' }), () => expect.unreachable());
    TestBed.tick();
    expect(entry.fields.code().errors()).toMatchObject([{ message: 'OAK is taken.' }]);
  });

  it('goes on when only a part of it is sent', () => {
    const entry = beginPart(() => 'rows');
    type({ code: 'OAK', warehouseId: 3 });
    entry.send(of(1), () => draft.update((now) => ({ ...now, code: '' })), 'part');
    expect([draft().warehouseId, entry.typed()]).toEqual([3, true]);
  });
});

describe('what is entered over a record', () => {
  it('begins anew with another record, stays on top of what others change, and is nothing any more once it was saved', () => {
    const record = signal({ id: 1, version: 1, code: 'A', warehouseId: 1 });
    const entry = begin();
    TestBed.runInInjectionContext(() => overRecord(entry, record, ({ code, warehouseId }) => ({ ...EMPTY, code, warehouseId })));
    TestBed.tick();
    expect([draft().code, entry.typed()]).toEqual(['A', false]);
    type({ code: 'AA' });
    record.update((now) => ({ ...now, version: 2, code: 'B', warehouseId: 5 }));
    TestBed.tick();
    expect([draft().code, draft().warehouseId, entry.typed()]).toEqual(['AA', 5, true]);
    // The same version loaded again is no reason to do anything.
    record.update((now) => ({ ...now, warehouseId: 7 }));
    TestBed.tick();
    expect(draft().warehouseId).toBe(5);
    entry.settle();
    record.update((now) => ({ ...now, version: 3, code: 'AA' }));
    TestBed.tick();
    expect([draft().code, draft().warehouseId, entry.typed()]).toEqual(['AA', 7, false]);
    type({ code: 'AAA' });
    record.set({ id: 2, version: 1, code: 'Z', warehouseId: 1 });
    TestBed.tick();
    expect([draft().code, entry.typed()]).toEqual(['Z', false]);
  });
});

describe('leaving', () => {
  it('is free where nothing was typed, and asks where something was', async () => {
    const entry = begin();
    const leaving = TestBed.inject(Leaving);
    expect(leaving.ask()).toBe(true);
    type({ code: 'OAK' });
    const stay = leaving.ask();
    expect(leaving.asking()).not.toBeNull();
    leaving.answer(false);
    expect([await stay, entry.typed()]).toEqual([false, true]);
    const leave = leaving.ask();
    leaving.answer(true);
    expect([await leave, entry.typed(), begin().again()]).toEqual([true, false, false]);
  });
});
