import '@angular/compiler';
import { Store } from '@ngrx/store';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { api, type ItemChoice, type OrderView } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { FakeClient, storeWith } from '../testing/fake-client';
import { freshLine } from '../ui/entry-line';
import { OrderEntryStore } from './order-entry.store';

const smoker: ItemChoice = {
  id: 4,
  code: 'SMOKER',
  description: 'Smoker',
  unit: 'each',
  decimals: 0,
  sellPrice: '36.00',
  kind: 'stocked',
  packs: [],
};

describe('the order in hand', () => {
  let client: FakeClient;
  let store: InstanceType<typeof OrderEntryStore>;
  const asked = (path: string) => client.asked.filter((each) => each.path === path);
  const line = (more: object) => ({ ...freshLine(), item: smoker, quantity: '2', ...more });
  beforeEach(() => {
    vi.useFakeTimers();
    client = new FakeClient();
    client.answer(api.stores.availability, () => ({ onHand: '10' }));
    client.answer(api.selling.explainPrice, (call) => ({
      price: Number((call.query as { quantity: string }).quantity) >= 10 ? '31.82' : '35.00',
      steps: ['because'],
    }));
    client.answer(api.selling.createOrder, () => ({ id: 1 }));
    store = storeWith(OrderEntryStore, client, [{ provide: Store, useValue: { dispatch: () => undefined } }]);
    store.set({ customerId: 3, warehouseId: 1, requiredDate: '2027-03-12' });
  });
  afterEach(() => vi.useRealTimers());

  it('takes the lists’ price for a line, and follows its quantity', () => {
    store.set({ lines: [line({})] });
    store.point(0);
    vi.advanceTimersByTime(300);
    expect(store.lines()[0]?.price).toBe('35.00');
    store.set({ lines: [line({ quantity: '12', price: '35.00' })] });
    store.point(0);
    vi.advanceTimersByTime(300);
    expect(store.lines()[0]?.price).toBe('31.82');
    expect(asked(api.selling.explainPrice.path)[0]?.call.query).toMatchObject({ customerId: 3, itemId: 4, quantity: '2', warehouseId: 1 });
  });

  it('knows its customer’s addresses and what they bought, and asks once for each customer', () => {
    client.answer(api.catalogue.getCustomer, () => ({ addresses: [{ label: 'Yard', address: 'Yard 2' }] }));
    client.answer(api.selling.boughtBefore, () => [{ code: 'SMOKER' }]);
    store.meet(3);
    store.meet(3);
    expect([store.addresses(), store.bought()]).toEqual([[{ label: 'Yard', address: 'Yard 2' }], [{ code: 'SMOKER' }]]);
    expect(asked(api.selling.boughtBefore.path)).toHaveLength(1);
    store.meet(0);
    expect([store.addresses(), store.bought()]).toEqual([[], []]);
  });

  it('looks at what a change of a confirmed order brings about before it makes it, and anew once something else is typed', () => {
    const done = vi.fn();
    const order = { id: 7, kind: 'order', state: 'confirmed', version: 2 } as unknown as OrderView;
    client.answer(api.selling.previewChange, () => ({
      rows: [{ position: 1, code: 'SMOKER', words: 'goes', trouble: false }],
      from: '1',
      to: '2',
      beyondCredit: 'over it',
    }));
    client.answer(api.selling.changeOrder, () => order);
    store.set({ order, lines: [line({})] });
    store.save(false, done);
    expect([done.mock.calls.length, store.change()?.rows.length]).toEqual([0, 1]);
    store.set({ note: 'more' });
    expect(store.change()).toBeNull();
    store.save(false, done);
    store.save(false, done);
    expect(done).toHaveBeenCalledOnce();
    expect(asked(api.selling.previewChange.path)).toHaveLength(2);
    expect(asked(api.selling.changeOrder.path)[0]?.call.body).toMatchObject({ version: 2, beyondCredit: true });
  });

  it('makes a change at once that brings nothing about, and looks at no draft', () => {
    const done = vi.fn();
    client.answer(api.selling.previewChange, () => ({ rows: [], from: '1', to: '1', beyondCredit: '' }));
    client.answer(api.selling.changeOrder, () => ({ id: 7 }));
    store.set({ order: { id: 7, kind: 'order', state: 'confirmed', version: 2 } as unknown as OrderView, lines: [line({})] });
    store.save(false, done);
    store.set({ order: { id: 7, kind: 'order', state: 'draft', version: 2 } as unknown as OrderView });
    store.save(false, done);
    expect(done).toHaveBeenCalledTimes(2);
    expect(asked(api.selling.previewChange.path)).toHaveLength(1);
  });

  it('leaves a price alone that was typed, and sends only such a one', () => {
    store.set({ lines: [line({ price: '30', typed: true }), line({ price: '35.00' })] });
    store.point(0);
    vi.advanceTimersByTime(300);
    expect(store.lines()[0]?.price).toBe('30');
    store.save(false, () => undefined);
    const { lines } = asked(api.selling.createOrder.path)[0]?.call.body as { lines: object[] };
    expect(lines[0]).toMatchObject({ price: '30' });
    expect(lines[1]).not.toHaveProperty('price');
  });

  describe('with charges by rule', () => {
    const charged = (amount: string) => ({
      currency: 'GBP',
      net: '0',
      total: '0',
      charges: [{ code: 'FREIGHT', description: 'Freight', amount, words: 'By weight' }],
    });
    const previews = () => asked(api.selling.previewCharges.path);
    /** As the page does with each change of what is entered. */
    const typed = (lines: object[]): void => {
      store.set({ lines: lines as ReturnType<typeof line>[] });
      store.charge({});
      vi.advanceTimersByTime(500);
    };

    it('asks what they would be once the typing pauses, adds them to the net, and asks nothing twice', () => {
      client.answer(api.selling.previewCharges, () => charged('6.90'));
      store.charge({});
      typed([line({ price: '20', typed: true })]);
      expect([previews().length, store.net()]).toEqual([1, '46.90']);
      typed([line({ price: '20', typed: true })]);
      expect(previews()).toHaveLength(1);
      store.set({ charges: false });
      typed([line({ price: '20', typed: true })]);
      expect([previews().length, store.charged(), store.net()]).toEqual([1, null, '40.00']);
    });

    it('has none as long as it can’t be entered, nor without a customer or an item', () => {
      client.answer(api.selling.previewCharges, () => new Problem('badInput', 'No.', {}, {}));
      typed([line({ price: '20', typed: true })]);
      expect([store.charged(), store.net(), store.problem()]).toEqual([null, '40.00', null]);
      store.set({ customerId: 0 });
      typed([line({ quantity: '3' })]);
      store.set({ customerId: 3 });
      typed([{ ...freshLine(), quantity: '3' }]);
      expect(previews()).toHaveLength(1);
    });

    it('leaves those of a draft to the rule, and keeps those of what is agreed as lines', () => {
      const freight = {
        id: 2,
        itemId: 9,
        code: 'FREIGHT',
        quantity: '1',
        price: '6.90',
        discount: '0',
        byRule: true,
        free: '0',
        requiredDate: '2027-03-12',
      };
      const order = (ruled: boolean) =>
        ({
          id: 7,
          ruled,
          charges: true,
          requiredDate: '2027-03-12',
          customerId: 3,
          currency: 'GBP',
          lines: [{ ...freight, id: 1, code: 'SMOKER', byRule: false }, freight],
        }) as unknown as OrderView;
      client.answer(api.selling.getOrder, () => order(true));
      store.load(7);
      expect(store.lines().map(({ id }) => id)).toEqual([1]);
      client.answer(api.selling.getOrder, () => order(false));
      store.load(7);
      expect(store.lines().map(({ id }) => id)).toEqual([1, 2]);
      store.charge({});
      vi.advanceTimersByTime(500);
      expect(previews()).toEqual([]);
    });
  });

  it('is in what its customer pays in, until it was agreed in something', () => {
    client.answer(api.catalogue.getCustomer, () => ({ addresses: [], currency: 'GBP' }));
    store.meet(3);
    expect(store.currency()).toBe('GBP');
    store.set({ order: { id: 7, customerId: 3, currency: 'NOK' } as unknown as OrderView });
    expect(store.currency()).toBe('NOK');
    store.set({ customerId: 4 });
    expect(store.currency()).toBe('GBP');
  });

  it('says that a rate is missing where a price needs it, and no other trouble with a price', () => {
    client.answer(api.selling.explainPrice, () => new Problem('noRate', 'There is no rate.', {}, { currency: 'GBP', day: '2027-03-01' }));
    store.set({ lines: [line({})] });
    store.point(0);
    vi.advanceTimersByTime(300);
    expect(store.problem()?.code).toBe('noRate');
    store.set({ problem: null });
    client.answer(api.selling.explainPrice, () => new Problem('badInput', 'No such quantity.', {}, {}));
    store.point(0);
    vi.advanceTimersByTime(300);
    expect([store.problem(), store.priced()]).toEqual([null, null]);
  });

  it('asks for what is there as the line in hand changes, once the typing pauses', () => {
    store.set({ lines: [line({})] });
    store.point(0);
    store.point(0);
    vi.advanceTimersByTime(300);
    expect(asked(api.stores.availability.path)).toHaveLength(1);
    expect(store.availability()).toMatchObject({ onHand: '10' });
    expect(store.answered()).toBe('2');
  });

  it('shows what is there though the quantity can’t be, and says no promise about that', () => {
    const refused = new Problem('tooFine', 'Whole pieces only.', {}, {});
    client.answer(api.stores.availability, (call) =>
      (call.query as { quantity?: string }).quantity === undefined ? { onHand: '10', promise: { date: null } } : refused,
    );
    store.set({ lines: [line({ quantity: '1.5' })] });
    store.point(0);
    vi.advanceTimersByTime(300);
    expect([store.availability()?.onHand, store.answered(), store.refused()]).toEqual(['10', '', 'Whole pieces only.']);
  });

  it('has a line come as offered: all of it on its own day, or a part in time and the rest as a line of its own', () => {
    store.set({ lines: [line({ quantity: '40', id: 7, price: '35.00' }), line({ quantity: '1' })] });
    store.point(0);
    store.offer({ part: '12', date: '2027-03-26' });
    expect(store.lines().map((each) => [each.id, each.quantity, each.date, each.price])).toEqual([
      [7, '12', '', '35.00'],
      [undefined, '28', '2027-03-26', '35.00'],
      [undefined, '1', '', ''],
    ]);
    store.set({ at: 2 });
    store.offer({ part: '', date: '2027-04-02' });
    store.save(false, () => undefined);
    expect((asked(api.selling.createOrder.path)[0]?.call.body as { lines: unknown[] }).lines).toMatchObject([
      { quantity: '12' },
      { quantity: '28', requiredDate: '2027-03-26' },
      { quantity: '1', requiredDate: '2027-04-02' },
    ]);
  });

  it('adds up what it can', () => {
    store.set({ lines: [line({ price: '35.00', discount: '10' }), line({ quantity: 'two', price: '35.00' }), freshLine()] });
    expect(store.net()).toBe('63.00');
  });

  it('keeps all that was typed where it is refused, and can be sent again', () => {
    client.refuse(api.selling.createOrder, new Problem('overCeiling', 'Too much.', { 'lines.0.discount': 'Too much.' }, { reasonNeeded: true }));
    store.set({ lines: [line({ discount: '40' })], reference: 'by phone' });
    store.save(true, () => expect.unreachable());
    expect(store.fields()).toEqual({ 'lines.0.discount': 'Too much.' });
    expect([store.busy(), store.reference(), store.lines()[0]?.discount]).toEqual([false, 'by phone', '40']);
    store.set({ lines: [line({ discount: '40', reason: 'scratched' })] });
    store.save(true, () => undefined);
    expect((asked(api.selling.createOrder.path)[1]?.call.body as { lines: object[] }).lines[0]).toMatchObject({ discountReason: 'scratched' });
  });
});
