import '@angular/compiler';
import { beforeEach, describe, expect, it } from 'vitest';
import { throwError } from 'rxjs';
import { api, type AnswerOf } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { FakeClient } from '../testing/fake-client';
import { screenWith } from '../testing/panel';
import { CounterReturn } from './counter-return';

type Found = AnswerOf<typeof api.counter.findReceipt>;
const piece = (shipmentLineId: number, left: string, more: object = {}) => ({
  shipmentLineId,
  code: `ITEM-${shipmentLineId}`,
  description: 'A thing',
  unit: 'each',
  lot: '',
  serial: '',
  shipped: left,
  returning: '0',
  left,
  ...more,
});
const found = (...pieces: object[]): Found =>
  ({ sale: { id: 4, number: 'CS-4', customer: 'Cash sale', total: '30.00' }, pieces }) as unknown as Found;

describe('a return over the counter', () => {
  interface Inside {
    readonly lines: () => readonly { readonly key: string; readonly piece: string; readonly left: string }[];
    readonly draft: () => { readonly quantities: Record<string, string>; readonly method: string };
    readonly set: (quantities: Record<string, string>) => void;
    readonly refused: () => Record<string, string | undefined>;
    readonly send: () => void;
  }
  let client: FakeClient;
  beforeEach(() => {
    client = new FakeClient();
  });
  const shown = (of: Found): Inside => screenWith(CounterReturn, client, ['selling.counter'], { found: of }).screen as unknown as Inside;

  it('takes the one thing that was sold for what comes back, and nothing where there are several', () => {
    expect(shown(found(piece(1, '1'))).draft().quantities).toEqual({ '1//': '1' });
    expect(shown(found(piece(1, '1'), piece(2, '1'))).draft().quantities).toEqual({});
    expect(shown(found(piece(1, '3'))).draft().quantities).toEqual({});
  });

  it('names each piece by its lot and number, and sends what was typed of it', () => {
    client.answer(api.counter.returnSale, () => ({ id: 8 }));
    const inside = shown(found(piece(1, '3', { lot: 'L-7' }), piece(2, '1', { serial: 'S-9' })));
    expect(inside.lines().map(({ key, piece: words }) => [key, words])).toEqual([
      ['1/L-7/', 'L-7'],
      ['2//S-9', 'S-9'],
    ]);
    inside.set({ '1/L-7/': ' 2 ', '2//S-9': '' });
    inside.send();
    expect(client.asked.at(-1)?.call).toMatchObject({
      params: { id: 4 },
      body: { method: 'cash', good: true, lines: [{ shipmentLineId: 1, lot: 'L-7', serial: '', quantity: '2' }] },
    });
  });

  it('shows what is refused at the piece that it is about', () => {
    client.answer(api.counter.returnSale, () =>
      throwError(() => new Problem('tooMuch', 'Only 1 is with them.', { 'lines.0.quantity': 'Only 1 is with them.' }, {})),
    );
    const inside = shown(found(piece(1, '3'), piece(2, '1')));
    inside.set({ '2//': '2' });
    inside.send();
    expect(inside.refused()).toEqual({ '2//': 'Only 1 is with them.' });
  });
});
