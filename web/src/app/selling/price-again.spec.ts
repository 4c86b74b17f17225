import '@angular/compiler';
import { TestBed } from '@angular/core/testing';
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
  const opened = () => screenWith(PriceAgain, client, [], { orderId: 7 });
  const dialog = (): Inside => opened().screen as unknown as Inside;
  const line = (id: number, code: string): object => ({
    id,
    position: id,
    code,
    description: 'Thing',
    from: '5.00',
    to: '6.00',
    steps: ['List price 6.00'],
  });

  it('are all taken unless a line is turned off, and on again', () => {
    client.answer(api.selling.pricesAgain, () => ({ lines: [line(1, 'SMOKER'), line(2, 'VEIL')], currency: 'CHF', from: '10.00', to: '12.00' }));
    const shown = dialog();
    expect(client.asked.at(-1)?.call.params).toEqual({ id: 7 });
    expect([...shown.chosen()]).toEqual([1, 2]);
    shown.turn(1);
    expect([...shown.chosen()]).toEqual([2]);
  });

  it('are seen beside what was agreed, with how they come about; turned off and on again by their line', () => {
    client.answer(api.selling.pricesAgain, () => ({ lines: [line(1, 'SMOKER'), line(2, 'VEIL')], currency: 'CHF', from: '10.00', to: '12.00' }));
    const { screen, page } = opened();
    const shown = screen as unknown as Inside;
    expect([...page.querySelectorAll('tbody tr')].map((row) => row.textContent.replace(/\s+/g, ' ').trim())).toEqual([
      'Take the price of SMOKERSMOKERList price 6.005.006.00',
      'Take the price of VEILVEILList price 6.005.006.00',
    ]);
    expect(page.textContent).toContain('Take 2 prices');
    shown.turn(1);
    TestBed.tick();
    expect(page.textContent).toContain('Take 1 price');
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
