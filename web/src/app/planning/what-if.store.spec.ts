import '@angular/compiler';
import { describe, expect, it } from 'vitest';
import { api, type PlanCopyView } from '@terrace/contract';
import { Refusal, UNSAID_RULE, type Supposition } from '@terrace/core';
import { Problem } from '../client/api-client';
import { FakeClient, storeWith } from '../testing/fake-client';
import { WhatIfChannel, type About, type Asked, type Question } from './what-if.channel';
import { WhatIfDesk } from './what-if.desk';
import { WhatIfStore } from './what-if.store';

const COPY: PlanCopyView = {
  seq: 4,
  historyId: 9,
  problem: {
    today: '2027-03-01',
    horizon: '2027-05-31',
    calendars: [{ code: 'STD', workdays: [1, 2, 3, 4, 5], holidays: [] }],
    warehouses: [{ code: 'WORKS', calendar: 'STD' }],
    items: [{ code: 'WAX', decimals: 0, phantom: false }],
    rules: [{ ...UNSAID_RULE, item: 'WAX', warehouse: 'WORKS', source: 'buy', leadDays: 5 }],
    boms: [],
    stock: [],
    receipts: [{ id: 'PO-7/1', item: 'WAX', warehouse: 'WORKS', date: '2027-03-09', quantity: '50', locked: false }],
    demands: [{ id: 'CO-1/1', item: 'WAX', warehouse: 'WORKS', date: '2027-03-15', quantity: '80', kind: 'order', probability: null }],
  },
  facts: {
    costs: [{ item: 'WAX', cost: '4.00' }],
    offers: [{ item: 'WAX', supplier: 'HIVE', preferred: true, leadDays: 5, minimum: '0', multiple: '0', prices: [{ from: '0', price: '4.00' }] }],
    own: [{ item: 'WAX', warehouse: 'WORKS', leadDays: 0, minimum: '0', multiple: '0' }],
    coming: [{ id: 'PO-7/1', supplier: 'HIVE', price: '4.00' }],
    making: [],
    reserved: [],
  },
  words: {
    items: [{ id: 3, code: 'WAX', description: 'Wax', unit: 'kg' }],
    suppliers: [
      { id: 1, code: 'HIVE', name: 'Hive and Sons' },
      { id: 2, code: 'IDLE', name: 'Sells nothing' },
    ],
    orders: [{ id: 9, number: 'CO-1', customer: 'Hollin Lane' }],
    warehouses: [{ id: 1, code: 'WORKS' }],
  },
};

/** The desk without a thread of its own. */
class DeskHere {
  private desk: WhatIfDesk | null = null;
  begun = 0;
  /** What the next copy is of. */
  copy = COPY;

  ask<A extends About>(question: Extract<Question, { about: A }>): Promise<Asked[A]['answer']> {
    return new Promise((done, fail) => {
      try {
        done(this.answer(question) as Asked[A]['answer']);
      } catch (error) {
        const field = error instanceof Refusal ? String(error.details['field']) : '';
        const message = error instanceof Error ? error.message : '';
        fail(new Problem('refused', message, { [field]: message }, {}));
      }
    });
  }

  private answer(question: Question): unknown {
    if (question.about === 'begin') {
      this.begun += 1;
      this.desk = new WhatIfDesk(this.copy);
      return this.desk.words();
    }
    if (!this.desk) throw new Error('no copy');
    if (question.about === 'suppose') return this.desk.suppose(question.list);
    return question.about === 'find' ? this.desk.find(question.text) : this.desk.rule(question.item, question.warehouse);
  }
}

const LOSE: Supposition = { kind: 'lose', supplier: 'HIVE' };
const MORE: Supposition = { kind: 'order', name: 'supposed 1', item: 'WAX', warehouse: 'WORKS', quantity: '20', date: '2027-04-05' };

async function begun() {
  const client = new FakeClient();
  const desk = new DeskHere();
  const store = storeWith(WhatIfStore, client, [{ provide: WhatIfChannel, useValue: desk }]);
  await store.begin();
  return { client, desk, store };
}

describe('what is supposed', () => {
  it('is held against the plan as it is, with the words that people know', async () => {
    const { store } = await begun();
    expect(store.copy()?.suppliers.map((each) => each.name)).toEqual(['Hive and Sons']);
    await store.add(LOSE, 'Hive and Sons delivers nothing any more');
    const view = store.view();
    expect(view?.before.purchases).toBe('320.00');
    expect(view?.after.purchases).toBe('0.00');
    expect(view?.lines).toMatchObject([
      { orderId: 9, customer: 'Hollin Lane', code: 'WAX', before: { ready: '2027-03-15' }, after: { ready: null } },
    ]);
    expect(view?.suggestions).toMatchObject([{ itemId: 3, before: { quantity: '30', supplier: 'Hive and Sons' }, after: null }]);
  });

  it('can be left out for a moment, taken in again and dropped', async () => {
    const { store } = await begun();
    await store.add(LOSE, 'lost');
    await store.turn(1);
    expect(store.entries()[0]?.on).toBe(false);
    expect(store.view()?.lines).toEqual([]);
    await store.turn(1);
    expect(store.view()?.allLines).toBe(1);
    await store.drop(1);
    expect(store.entries()).toEqual([]);
    expect(store.view()?.after).toEqual(store.view()?.before);
  });

  it('keeps what was supposed where something more is refused', async () => {
    const { store } = await begun();
    await store.add(LOSE, 'lost');
    await store.add({ kind: 'move', id: 'PO-9/1', date: '2027-04-01' }, 'moved');
    expect(store.problem()?.message).toMatch(/PO-9\/1/);
    expect(store.entries().map((each) => each.words)).toEqual(['lost']);
    expect(store.view()?.allLines).toBe(1);
  });

  it('finds what could be moved by number, item or customer, and says how an item is planned', async () => {
    const { desk } = await begun();
    expect((await desk.ask({ about: 'find', text: 'hollin wax' })).map((each) => [each.id, each.what])).toEqual([['CO-1/1', 'order']]);
    expect((await desk.ask({ about: 'find', text: 'po-7' })).map((each) => [each.id, each.what])).toEqual([['PO-7/1', 'purchase']]);
    expect((await desk.ask({ about: 'rule', item: 'WAX', warehouse: 'WORKS' }))?.leadDays).toBe(0);
    expect(await desk.ask({ about: 'rule', item: 'WAX', warehouse: 'DEPOT' })).toBeNull();
  });

  it('follows the plan while nothing is supposed, and says that it is behind where something is', async () => {
    const { client, desk, store } = await begun();
    client.answer(api.planning.getPlan, () => ({ seq: 5 }));
    store.planChanged();
    await Promise.resolve();
    expect(desk.begun).toBe(2);
    await store.add(LOSE, 'lost');
    store.planChanged();
    expect(desk.begun).toBe(2);
    expect(store.behind()).toBe(true);
  });

  it('leaves out what no longer holds on a new copy, says why, and counts the rest', async () => {
    const { desk, store } = await begun();
    await store.add({ kind: 'move', id: 'PO-7/1', date: '2027-03-29' }, 'later');
    await store.add(MORE, '20 more');
    desk.copy = { ...COPY, problem: { ...COPY.problem, receipts: [] }, facts: { ...COPY.facts, coming: [] } };
    await store.begin();
    expect(store.problem()).toBeNull();
    expect(store.entries().map((each) => [each.words, each.on])).toEqual([
      ['later', false],
      ['20 more', true],
    ]);
    expect(store.entries()[0]?.why).toMatch(/Nothing of PO-7\/1 is open/);
    expect(store.view()?.before.purchases).toBe('320.00');
    expect(store.view()?.after.purchases).toBe('400.00');
  });

  it('is forgotten when somebody else signs in at the same window', async () => {
    const { client, store } = await begun();
    client.answer(api.planning.getPlan, () => ({ seq: 4 }));
    await store.open('maren');
    await store.add(LOSE, 'lost');
    await store.open('maren');
    expect(store.entries()).toHaveLength(1);
    await store.open('tobin');
    expect(store.entries()).toEqual([]);
  });

  it('is adopted as a whole, orders for the customers that were named, and what was left out stays supposed', async () => {
    const { client, store } = await begun();
    await store.add(MORE, '20 more');
    await store.add(LOSE, 'lost');
    await store.turn(2);
    client.answer(api.planning.adopt, () => ({ done: ['CO-2 is entered'] }));
    let adopted = false;
    store.adopt(new Map([[1, 12]]), () => (adopted = true));
    expect(adopted).toBe(true);
    expect(client.asked.find((each) => each.path === api.planning.adopt.path)?.call.body).toEqual({
      historyId: 9,
      suppositions: [{ kind: 'order', customerId: 12, item: 'WAX', warehouse: 'WORKS', quantity: '20', date: '2027-04-05' }],
    });
    expect(store.done()).toEqual(['CO-2 is entered']);
    expect(store.entries().map((each) => each.words)).toEqual(['lost']);
  });

  it('stays where adopting it is refused', async () => {
    const { client, store } = await begun();
    await store.add(LOSE, 'lost');
    client.refuse(api.planning.adopt, new Problem('inactiveSupplier', 'Given up already.', {}, {}));
    store.adopt(new Map(), () => undefined);
    expect(store.problem()?.message).toBe('Given up already.');
    expect(store.entries()).toHaveLength(1);
  });
});
