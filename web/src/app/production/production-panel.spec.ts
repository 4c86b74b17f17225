// @vitest-environment jsdom
import '@angular/compiler';
import { beforeEach, describe, expect, it } from 'vitest';
import { api, type ProductionView, type Right } from '@terrace/contract';
import { FakeClient } from '../testing/fake-client';
import { offered, panelWith, press } from '../testing/panel';
import type { LineQuantities } from '../ui/line-quantities';
import { ProductionPanel } from './production-panel';

const order: ProductionView = {
  id: 7,
  number: 'PRD-7',
  code: 'FRAME',
  description: 'Frame',
  state: 'draft',
  warehouse: 'WORKS',
  quantity: '14',
  finished: '0',
  unit: 'each',
  startDate: '2027-03-01',
  dueDate: '2027-03-03',
  late: false,
  itemId: 101,
  warehouseId: 1,
  decimals: 0,
  tracking: 'none',
  outstanding: '14',
  cost: '0.00',
  unitCost: '0.00',
  version: 5,
  note: '',
  components: [],
  completions: [],
};
const ALL: readonly Right[] = ['production.edit', 'production.report'];

describe('a production order', () => {
  let client: FakeClient;
  const shown = (more: Partial<ProductionView>, rights = ALL) => {
    client.answer(api.production.getProduction, () => ({ ...order, ...more }));
    return panelWith(ProductionPanel, client, rights, 7).panel;
  };
  beforeEach(() => {
    client = new FakeClient();
  });

  it.each([
    ['draft', ['Release PRD-7', 'Cancel the order']],
    ['released', ['Finish 14 each as planned', 'Cancel the order']],
    ['running', ['Finish 14 each as planned', 'Cancel the rest']],
    ['finished', []],
    ['cancelled', []],
  ] as const)('that is %s offers what can be done with it, by whoever may', (state, words) => {
    expect(offered(shown({ state }))).toEqual(words);
    expect(offered(shown({ state }, []))).toEqual([]);
  });

  it('is finished with the pieces that are named, of what is made and of what is taken', () => {
    client.answer(api.production.finishProduction, () => ({ ...order, state: 'finished' }));
    const panel = shown({ state: 'released' });
    const parts = panel as unknown as { quantity: { set: (to: string) => void }; taken: LineQuantities; pieces: { set: (to: object[]) => void } };
    parts.quantity.set('2');
    parts.pieces.set([{ lot: 'L9', quantity: '2' }]);
    parts.taken.name(31, [{ serials: 'M1 M2' }]);
    parts.taken.name(32, []);
    press(panel, 'Finish 2 each as planned');
    expect(client.asked.at(-1)?.call.body).toEqual({
      version: 5,
      quantity: '2',
      pieces: [{ lot: 'L9', quantity: '2' }],
      taken: [{ componentId: 31, pieces: [{ serials: 'M1 M2' }] }],
    });
    expect(parts.taken.piecesOf(31)).toEqual([]);
  });

  it('tells the cost of one as soon as there is one', () => {
    const cost = (more: Partial<ProductionView>) =>
      shown(more)
        .facts()
        .find((fact) => fact.title === 'Cost of one')?.value;
    expect(cost({})).toBe('');
    expect(cost({ finished: '2', unitCost: '0.90' })).toBe('0.90');
  });
});
