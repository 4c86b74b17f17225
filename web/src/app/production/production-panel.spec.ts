import '@angular/compiler';
import type { WritableSignal } from '@angular/core';
import { beforeEach, describe, expect, it } from 'vitest';
import { api, type ProductionView, type Right } from '@terrace/contract';
import { FakeClient } from '../testing/fake-client';
import { offered, panelWith, press } from '../testing/panel';
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
  cancelled: '0',
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
    client.answer(api.production.finishProduction, () => ({ ...order, state: 'finished', version: 6 }));
    const panel = shown({ state: 'released' });
    const { draft } = panel as unknown as { draft: WritableSignal<object> };
    draft.set({ quantity: '2', pieces: [{ lot: 'L9', quantity: '2' }], taken: { 31: [{ serials: 'M1 M2' }], 32: [] } });
    press(panel, 'Finish 2 each as planned');
    expect(client.asked.at(-1)?.call.body).toEqual({
      version: 5,
      quantity: '2',
      pieces: [{ lot: 'L9', quantity: '2' }],
      taken: [{ componentId: 31, pieces: [{ serials: 'M1 M2' }] }],
    });
    expect(draft()).toEqual({ quantity: '14', pieces: [], taken: {} });
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
