import '@angular/compiler';
import { TestBed } from '@angular/core/testing';
import type { Signal, WritableSignal } from '@angular/core';
import { Store } from '@ngrx/store';
import { beforeEach, describe, expect, it } from 'vitest';
import { api, type OrderPreview, type OrderRunView, type Right } from '@terrace/contract';
import { liveActions } from '../client/live.state';
import { FakeClient } from '../testing/fake-client';
import { screenWith } from '../testing/panel';
import { ChosenOrders } from './chosen-orders';
import type { ManyDraft } from './many-draft';
import { ManyPage } from './many.page';
import { RunPage } from './run.page';

let client: FakeClient;
beforeEach(() => {
  client = new FakeClient();
  client.answer(api.selling.runs, () => []);
});
const row = (id: number, can: boolean) => ({ id, number: `CO-${id}`, customer: 'Tarnside', can, words: can ? 'confirmed' : 'is held' });

describe('the same with many orders', () => {
  interface Inside {
    readonly acts: Signal<readonly { act: string }[]>;
    readonly draft: WritableSignal<ManyDraft>;
    readonly preview: Signal<OrderPreview | null>;
    readonly shown: Signal<readonly { id: number }[]>;
    look(): void;
    turned(): void;
    start(): void;
  }
  const page = (rights: readonly Right[] = ['selling.confirm']) => {
    const made = screenWith(ManyPage, client, rights);
    TestBed.inject(ChosenOrders).take([{ id: 1 }, { id: 2 }, { id: 3 }]);
    return { ...made, screen: made.screen as unknown as Inside };
  };

  it('offers what somebody may, and begins with the first of it', () => {
    const { screen } = page(['accounts.invoice']);
    expect(screen.acts().map(({ act }) => act)).toEqual(['invoice']);
    expect(screen.draft().act).toBe('invoice');
  });

  it('shows those that can’t be first; what was looked at is no preview of something else', () => {
    const rows = [row(1, true), row(2, false), row(3, true)];
    client.answer(api.selling.previewRun, () => ({ rows, can: 2 }));
    const { screen } = page();
    screen.look();
    expect(client.asked.at(-1)?.call.body).toEqual({ act: { act: 'confirm' }, ids: [1, 2, 3] });
    expect(screen.shown().map(({ id }) => id)).toEqual([2, 1, 3]);
    screen.turned();
    expect(screen.preview()).toBeNull();
  });

  it('goes to the run that was begun', () => {
    client.answer(api.selling.startRun, () => ({ id: 12 }));
    const { screen, visited } = page();
    screen.start();
    expect(visited).toEqual(['/selling/many/12']);
  });
});

describe('a run', () => {
  interface Inside {
    readonly run: Signal<OrderRunView | null>;
    readonly look: WritableSignal<string>;
    readonly looks: Signal<readonly { words: string }[]>;
    readonly rows: Signal<readonly { id: number }[]>;
    stop(): void;
  }
  const view = (state: OrderRunView['state'], states: readonly ('done' | 'refused' | 'waiting')[]): OrderRunView => ({
    id: 12,
    title: 'Confirm',
    who: 'Maren',
    at: '2027-03-01T09:00:00.000Z',
    papers: false,
    state,
    total: states.length,
    done: states.filter((each) => each === 'done').length,
    refused: states.filter((each) => each === 'refused').length,
    rows: states.map((each, index) => ({ id: index + 1, number: `CO-${index + 1}`, customer: '', state: each, words: '' })),
  });

  it('is seen as it goes on, by what became of each', () => {
    client.answer(api.selling.getRun, () => view('running', ['done', 'waiting', 'waiting']));
    const screen = screenWith(RunPage, client, [], { id: 12 }).screen as unknown as Inside;
    expect(screen.looks().map(({ words }) => words)).toEqual(['All 3', 'Done 1', 'Untouched 2']);
    client.answer(api.selling.getRun, () => view('done', ['done', 'refused', 'done']));
    TestBed.inject(Store).dispatch(liveActions.heard({ event: { topic: 'orderRun', id: 12, what: '', userId: 0, at: '' } as never }));
    TestBed.tick();
    expect(screen.run()?.state).toBe('done');
    screen.look.set('refused');
    expect(screen.rows().map(({ id }) => id)).toEqual([2]);
    screen.stop();
    expect(client.asked.at(-1)).toMatchObject({ path: '/selling/runs/:id/stop', call: { params: { id: 12 } } });
  });
});
