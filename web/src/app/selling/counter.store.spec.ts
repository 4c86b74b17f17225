import '@angular/compiler';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { throwError } from 'rxjs';
import { api, type PricedBasket, type SaleView } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { FakeClient, storeWith } from '../testing/fake-client';
import { CounterStore } from './counter.store';

const NOTHING = {
  item: null,
  lot: null,
  lotId: null,
  serial: null,
  serialId: null,
  expiry: null,
  madeOn: null,
  sscc: null,
  binId: null,
  bin: null,
  quantity: null,
};
const ITEMS = {
  PAIL: { id: 1, code: 'PAIL', description: 'Pail', unit: 'each', tracking: 'none' as const },
  SCALE: { id: 2, code: 'SCALE', description: 'Scale', unit: 'each', tracking: 'serial' as const },
};
const sale = { id: 9, number: 'CS-1', change: '0.00', receipt: [] } as unknown as SaleView;

describe('the basket at the counter', () => {
  let client: FakeClient;
  let store: InstanceType<typeof CounterStore>;
  const sent = (path: string) => client.asked.filter((each) => each.path === path).at(-1)?.call.body as Record<string, unknown> | undefined;
  beforeEach(() => {
    vi.useFakeTimers();
    client = new FakeClient();
    client.answer(api.counter.drawer, () => ({ drawer: null, left: '0.00' }));
    client.answer(api.counter.listParked, () => []);
    client.answer(api.counter.previewSale, ({ body }): PricedBasket => {
      const { lines } = body as { lines: { itemId: number; quantity: string }[] };
      return {
        lines: lines.map(({ itemId, quantity }) => ({
          itemId,
          code: 'X',
          description: '',
          unit: 'each',
          tracking: 'none',
          quantity,
          free: '0',
          price: '10.00',
          discount: '0',
          amount: '10.00',
          there: '2',
        })),
        net: '25.00',
        tax: '5.00',
        total: '30.00',
      };
    });
    client.answer(api.stores.scan, ({ query }) => {
      const { text } = query as { text: string };
      if (text === 'SCALE-S7') return { ...NOTHING, item: ITEMS.SCALE, serial: 'S7' };
      const item = text === 'PAIL' ? ITEMS.PAIL : text === 'SCALE' ? ITEMS.SCALE : undefined;
      return item ? { ...NOTHING, item } : throwError(() => new Problem('unknownCode', 'nothing', {}, {}));
    });
    client.answer(api.counter.sell, () => sale);
    store = storeWith(CounterStore, client);
    store.begin(1);
  });
  afterEach(() => vi.useRealTimers());
  const enter = (...typed: string[]): void => {
    for (const each of typed) store.type(each);
    vi.advanceTimersByTime(100);
  };

  it('takes what is scanned, more of the same together, and changes the line in hand', () => {
    enter('PAIL', '2*PAIL', 'SCALE', '5%', '+1');
    expect(store.lines()).toMatchObject([
      { code: 'PAIL', quantity: '3', discount: '0' },
      { code: 'SCALE', quantity: '1', discount: '5', free: '1' },
    ]);
    store.point(0);
    enter('*4', '=3.50');
    expect(store.lines()[0]).toMatchObject({ quantity: '4', price: '3.50' });
    expect(sent('/counter/preview')).toMatchObject({
      warehouseId: 1,
      customerId: null,
      lines: [{ quantity: '4', price: '3.50' }, { quantity: '1' }],
    });
    expect(store.short()).toEqual([0]);
    enter('-');
    expect(store.lines().map(({ code }) => code)).toEqual(['SCALE']);
  });

  it('knows a serial number that is in the basket already', () => {
    enter('SCALE-S7', 'SCALE-S7');
    expect(store.lines()).toMatchObject([{ quantity: '1', serials: 'S7' }]);
    expect(store.problem()?.message).toContain('in the basket already');
  });

  it('looks for words where no scan knows them, and then among the receipts', () => {
    client.answer(api.catalogue.findItems, () => [{ ...ITEMS.PAIL }, { ...ITEMS.SCALE }] as never);
    enter('2*something');
    expect(store.found()).toHaveLength(2);
    store.take(store.found()[1] as never);
    expect(store.lines()).toMatchObject([{ code: 'SCALE', quantity: '2' }]);
    client.answer(api.catalogue.findItems, () => []);
    client.answer(api.counter.findReceipt, () => throwError(() => new Problem('unknownCode', 'none', {}, {})));
    enter('CS-9');
    expect(store.problem()?.message).toContain('“CS-9”');
    // What was scanned and not taken is not lost among what comes after it.
    enter('PAIL', '');
    expect([store.missed(), store.step()]).toEqual([[], 'sell']);
    expect(store.problem()?.message).toContain('Not in the basket: CS-9');
    client.answer(api.counter.findReceipt, () => ({ sale, pieces: [] }));
    enter('CS-1');
    expect(store.receipt()?.sale.number).toBe('CS-1');
  });

  it('does what was typed in order, however late the answers come', () => {
    enter('PAIL', '3*', 'SCALE', '5%', '', 'c');
    expect(sent('/counter/sales')).toMatchObject({
      lines: [
        { itemId: 1, quantity: '3', discount: '0' },
        { itemId: 2, discount: '5' },
      ],
      payments: [{ method: 'card', amount: '30.00' }],
    });
  });

  it('is paid in several ways, and sold as soon as nothing is due', () => {
    enter('PAIL', '');
    expect([store.step(), store.due()]).toEqual(['pay', '30.00']);
    store.type('x');
    expect(store.problem()?.message).toContain('c for a card');
    store.type('c 12,50');
    expect(store.due()).toBe('17.50');
    store.type('10');
    expect(store.due()).toBe('7.50');
    expect(sent('/counter/sales')).toBeUndefined();
    store.type('20');
    expect(sent('/counter/sales')).toMatchObject({ payments: [{ method: 'card', amount: '12.50' }], cash: '30.00' });
    expect([store.sale()?.number, store.lines(), store.step()]).toEqual(['CS-1', [], 'sell']);
  });

  it('is there as it was where it could not be sold, and nothing counts as paid', () => {
    client.answer(api.counter.sell, () => throwError(() => new Problem('noDrawer', 'The drawer is not open.', {}, {})));
    enter('PAIL', '');
    store.type('');
    expect(store.problem()?.message).toBe('The drawer is not open.');
    expect([store.lines().length, store.given(), store.due()]).toEqual([1, '0', '30.00']);
    store.type('a');
    expect(sent('/counter/sales')).toMatchObject({ onAccount: true, cash: '0' });
  });

  it('is put aside, and taken up only by an empty counter', () => {
    client.answer(api.counter.park, () => ({ id: 5 }));
    enter('PAIL');
    store.takeUp(5);
    expect(store.problem()?.message).toContain('Put this basket aside first');
    store.park();
    expect(store.lines()).toEqual([]);
    client.answer(api.counter.takeUp, () => ({
      id: 5,
      at: '',
      who: '',
      words: 'Pail',
      lines: 1,
      basket: {
        warehouseId: 1,
        customerId: 4,
        lines: [{ itemId: 1, quantity: '2', discount: '0', discountReason: '', free: '0', serials: '', lot: '' }],
      },
    }));
    store.takeUp(5);
    vi.advanceTimersByTime(100);
    expect([store.customerId(), store.lines()[0]?.quantity, store.priced()?.total]).toEqual([4, '2', '30.00']);
  });
});
