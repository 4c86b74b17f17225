import '@angular/compiler';
import type { Signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Store } from '@ngrx/store';
import { beforeEach, describe, expect, it } from 'vitest';
import { api, type Right } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { liveActions } from '../client/live.state';
import { FakeClient } from '../testing/fake-client';
import { screenWith } from '../testing/panel';
import { ConditionNote } from './condition';

interface Inside {
  readonly condition: Signal<{ readonly kind: string } | null>;
  readonly may: Signal<boolean>;
  readonly believe: () => void;
}

let client: FakeClient;
const clockBack = { kind: 'clockBack', stops: true, words: 'The clock has gone back.' };
const note = (rights: readonly Right[] = []): Inside => screenWith(ConditionNote, client, rights).screen as unknown as Inside;
const hear = (topic: string): void => {
  TestBed.inject(Store).dispatch(liveActions.heard({ event: { topic, id: 0, what: '', userId: 0, at: '' } as never }));
  TestBed.tick();
};

describe('the condition of the server on every screen', () => {
  beforeEach(() => {
    client = new FakeClient();
  });

  it('is said from the first look on, and goes when all is well again', () => {
    client.answer(api.setup.condition, () => ({ condition: clockBack }));
    const shown = note();
    expect(shown.condition()).toEqual(clockBack);
    client.answer(api.setup.condition, () => ({ condition: null }));
    hear('stock');
    expect(shown.condition()).toEqual(clockBack);
    hear('condition');
    expect(shown.condition()).toBeNull();
  });

  it('stays said where it can’t be asked again', () => {
    client.answer(api.setup.condition, () => ({ condition: clockBack }));
    const shown = note();
    client.refuse(api.setup.condition, new Problem('noAnswer', 'The server does not answer.', {}, {}));
    hear('condition');
    expect(shown.condition()).toEqual(clockBack);
  });

  it('can be set right by who may: the clock is believed', () => {
    client.answer(api.setup.condition, () => ({ condition: clockBack }));
    expect(note().may()).toBe(false);
    const shown = note(['setup.edit']);
    expect(shown.may()).toBe(true);
    client.answer(api.setup.believeClock, () => ({ condition: null }));
    shown.believe();
    expect(shown.condition()).toBeNull();
    expect(client.asked.at(-1)?.path).toBe('/setup/clock');
  });
});
