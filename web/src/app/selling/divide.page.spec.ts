import '@angular/compiler';
import { throwError } from 'rxjs';
import { beforeEach, describe, expect, it } from 'vitest';
import { api, type DivisionPreview } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { FakeClient } from '../testing/fake-client';
import { screenWith } from '../testing/panel';
import { DividePage } from './divide.page';

interface Inside {
  readonly seen: () => DivisionPreview | null;
  readonly problem: () => Problem | null;
  readonly inHand: () => unknown;
  readonly choose: (reason: string, on: boolean) => void;
  readonly take: (lineId: number, from: number) => void;
  readonly move: () => void;
  readonly change: (at: number, change: object) => void;
  readonly divide: () => void;
}
type Part = DivisionPreview['parts'][number];
const part = (quantity: string): Part => ({
  warehouseId: null,
  warehouse: 'WORKS',
  shipTo: '',
  carrier: '',
  why: [],
  lines: [
    {
      lineId: 7,
      position: 1,
      code: 'SMOKER',
      description: 'Smoker',
      unit: 'each',
      decimals: 0,
      quantity,
      free: '0',
      reserved: '0',
      promiseDate: '2027-03-12',
      amount: '9.00',
    },
  ],
  promiseDate: '2027-03-12',
  ready: 'nothing',
  net: '9.00',
  tax: '0.00',
  total: '9.00',
});
const preview = (...quantities: string[]): DivisionPreview => ({
  order: { id: 4, number: 'CO-4', customer: 'Tarnside', warehouse: 'WORKS', total: '9.00', currency: 'CHF', version: 3 },
  could: ['short'],
  parts: quantities.map(part),
});

describe('an order that is divided', () => {
  let client: FakeClient;
  beforeEach(() => {
    client = new FakeClient();
    client.answer(api.catalogue.choices, () => ({ warehouses: [] }));
    client.answer(api.selling.previewDivision, () => preview('9'));
    client.answer(api.selling.divideOrder, () => ({ orders: [] }));
  });
  const page = (): Inside => screenWith(DividePage, client, ['selling.edit'], { id: 4 }).screen as unknown as Inside;
  const bodies = (): unknown[] => client.asked.filter(({ path }) => path === api.selling.previewDivision.path).map(({ call }) => call.body);

  it('is looked at by the reasons that are chosen, and by hand from what was seen', () => {
    const shown = page();
    shown.choose('short', true);
    expect(bodies()).toEqual([{ reasons: [] }, { reasons: ['short'] }]);
    client.answer(api.selling.previewDivision, () => preview('6', '3'));
    shown.choose('short', true);
    shown.take(7, 0);
    shown.move();
    expect(bodies().at(-1)).toEqual({
      parts: [
        { warehouseId: null, shipTo: '', carrier: '', lines: [] },
        { warehouseId: null, shipTo: '', carrier: '', lines: [{ lineId: 7, quantity: '9' }] },
      ],
    });
    expect(shown.inHand()).toBeNull();
  });

  it('is not divided while all of it stays, and once where it is pressed twice', () => {
    const shown = page();
    shown.divide();
    const asked = (): number => client.asked.filter(({ path }) => path === api.selling.divideOrder.path).length;
    expect(asked()).toBe(0);
    client.answer(api.selling.previewDivision, () => preview('6', '3'));
    shown.change(0, { carrier: 'Fen Parcels' });
    shown.divide();
    shown.divide();
    expect(asked()).toBe(1);
    expect(client.asked.at(-1)?.call.body).toMatchObject({ version: 3, parts: [{ carrier: 'Fen Parcels' }] });
  });

  it('says what can’t be, and goes back to what could', () => {
    const shown = page();
    client.answer(api.selling.previewDivision, () => throwError(() => new Problem('notAllThere', 'Something is missing.', {}, {})));
    shown.change(0, { carrier: 'x' });
    expect(shown.problem()?.message).toBe('Something is missing.');
    expect(shown.seen()?.parts).toHaveLength(1);
  });
});
