import '@angular/compiler';
import type { WritableSignal } from '@angular/core';
import { beforeEach, describe, expect, it } from 'vitest';
import { api, type Right, type TransferView } from '@terrace/contract';
import { FakeClient } from '../testing/fake-client';
import { offered, panelWith, press } from '../testing/panel';
import type { LineQuantities } from '../ui/line-quantities';
import type { LineColumn } from '../ui/lines';
import { TransferPanel } from './transfer-panel';

const transfer: TransferView = {
  id: 7,
  number: 'TR-7',
  from: 'WORKS',
  fromId: 1,
  to: 'DEPOT',
  toId: 2,
  state: 'requested',
  date: '2027-03-01',
  shipDate: '2027-03-02',
  dueDate: '2027-03-04',
  carrier: '',
  note: '',
  inTransit: '0.00',
  version: 3,
  lines: [
    {
      id: 11,
      position: 1,
      itemId: 101,
      code: 'JAR',
      description: 'Jar',
      unit: 'each',
      decimals: 0,
      tracking: 'none',
      quantity: '12',
      reserved: '10',
      shipped: '8',
      received: '3',
      lost: '0',
      onTheWay: '5',
      bin: 'A-01',
      pieces: [],
    },
  ],
};

describe('a transfer', () => {
  let client: FakeClient;
  const shown = (more: Partial<TransferView>, rights: readonly Right[] = ['stores.adjust']) => {
    client.answer(api.stores.getTransfer, () => ({ ...transfer, ...more }));
    return panelWith(TransferPanel, client, rights, 7).panel;
  };
  beforeEach(() => {
    client = new FakeClient();
  });

  it.each([
    ['requested', ['Ship TR-7 to DEPOT', 'Cancel it', 'Pick list (PDF)'], 'Ship now', '10'],
    ['shipped', ['Receive what is typed', 'Take back', 'Paper (PDF)'], 'Has arrived', '5'],
    ['partReceived', ['Receive what is typed', 'Paper (PDF)'], 'Has arrived', '5'],
    ['received', ['Paper (PDF)'], undefined, '5'],
  ] as const)('that is %s offers what comes next, with what can move already filled in', (state, words, heading, filled) => {
    const panel = shown({ state });
    const { moving, columns } = panel as unknown as { moving: LineQuantities; columns: () => readonly LineColumn<unknown>[] };
    expect(offered(panel)).toEqual(words);
    expect(columns().find((column) => column.cell === 'moving' && column.shown !== false)?.title).toBe(heading);
    expect(moving.of(11)).toBe(filled);
    expect(offered(shown({ state }, []))).toEqual([]);
  });

  it('ships what is typed, and gives up what is missing for a reason only where one is chosen', () => {
    client.answer(api.stores.shipTransfer, () => ({ ...transfer, state: 'shipped', version: 4 }));
    client.answer(api.stores.receiveTransfer, () => ({ ...transfer, state: 'received', version: 5 }));
    const panel = shown({});
    const parts = panel as unknown as {
      moving: LineQuantities;
      draft: WritableSignal<{ reason: string; note: string }>;
    };
    parts.moving.type(11, '9');
    press(panel, 'Ship TR-7 to DEPOT');
    expect(client.asked.at(-1)?.call.body).toEqual({ version: 3, lines: [{ lineId: 11, quantity: '9' }] });
    parts.draft.update((draft) => ({ ...draft, reason: 'BREAKAGE', note: 'fell off' }));
    press(panel, 'Receive what is typed');
    expect(client.asked.at(-1)?.call.body).toEqual({ version: 4, lines: [{ lineId: 11, quantity: '5' }], note: 'fell off', reason: 'BREAKAGE' });
    expect(parts.draft().reason).toBe('');
  });
});
