import '@angular/compiler';
import { beforeEach, describe, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { FakeClient } from '../testing/fake-client';
import { screenWith } from '../testing/panel';
import { PriceAgain } from './price-again';

/** What the template shows and does. */
interface Inside {
  readonly chosen: () => ReadonlySet<number>;
  readonly found: () => { readonly lines: readonly unknown[] } | null;
  readonly problem: () => Problem | null;
  readonly turn: (id: number) => void;
}

describe('today’s prices of an order', () => {
  let client: FakeClient;
  beforeEach(() => {
    client = new FakeClient();
  });
  const dialog = (): Inside => screenWith(PriceAgain, client, [], { orderId: 7 }).screen as unknown as Inside;

  it('are all taken unless a line is turned off, and on again', () => {
    client.answer(api.selling.pricesAgain, () => ({ lines: [{ id: 1 }, { id: 2 }], from: '10.00', to: '12.00' }));
    const shown = dialog();
    expect(client.asked.at(-1)?.call.params).toEqual({ id: 7 });
    expect([...shown.chosen()]).toEqual([1, 2]);
    shown.turn(1);
    expect([...shown.chosen()]).toEqual([2]);
    shown.turn(1);
    shown.turn(2);
    expect([...shown.chosen()]).toEqual([1]);
  });

  it('say why they can’t be looked at', () => {
    client.refuse(api.selling.pricesAgain, new Problem('notFound', 'There is no such order.', {}, {}));
    const shown = dialog();
    expect([shown.found(), shown.problem()?.code, shown.chosen().size]).toEqual([null, 'notFound', 0]);
  });
});
