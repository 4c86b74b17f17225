import '@angular/compiler';
import { TestBed } from '@angular/core/testing';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { throwError } from 'rxjs';
import { api, type PricedBasket, type SaleView } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { NO_CHOICES } from '../client/choices';
import { FakeClient } from '../testing/fake-client';
import { screenWith } from '../testing/panel';
import { CounterPage } from './counter.page';

const PAIL = { id: 1, code: 'PAIL', description: 'Pail of steel', unit: 'each', tracking: 'none' as const };
const sale = { id: 9, number: 'CS-9', change: '10.00', receipt: ['CS-9', 'Pail of steel'], returnOfId: null } as unknown as SaleView;

describe('the page of the counter', () => {
  let client: FakeClient;
  let page: HTMLElement;
  beforeEach(() => {
    vi.useFakeTimers();
    client = new FakeClient();
    client.answer(api.catalogue.choices, () => ({ ...NO_CHOICES, warehouses: [{ id: 1, code: 'WORKS', name: 'Works' }] }));
    client.answer(api.counter.drawer, () => ({ drawer: { id: 3, number: 'DR-3', expected: '120.50', version: 1 }, left: '0.00' }));
    client.answer(api.counter.listParked, () => [{ id: 5, words: 'Veil', lines: 3, who: 'Tobin' }]);
    client.answer(api.counter.previewSale, ({ body }): PricedBasket => ({
      lines: (body as { lines: { itemId: number; quantity: string }[] }).lines.map(({ itemId, quantity }) => ({
        itemId,
        code: 'PAIL',
        description: 'Pail of steel',
        unit: 'each',
        tracking: 'none',
        quantity,
        free: '0',
        price: '10.00',
        discount: '0',
        amount: '20.00',
        there: '1',
      })),
      net: '16.67',
      tax: '3.33',
      total: '20.00',
    }));
    client.answer(api.stores.scan, ({ query }) =>
      (query as { text: string }).text === 'PAIL'
        ? { item: PAIL, lot: null, serial: null }
        : throwError(() => new Problem('unknownCode', 'nothing', {}, {})),
    );
    client.answer(api.catalogue.findItems, () => []);
    client.answer(api.counter.findReceipt, () => throwError(() => new Problem('unknownCode', 'none', {}, {})));
    client.answer(api.counter.sell, () => sale);
    ({ page } = screenWith(CounterPage, client, ['selling.counter', 'selling.see']));
    settle();
  });
  afterEach(() => vi.useRealTimers());

  function settle(): void {
    vi.runOnlyPendingTimers();
    TestBed.tick();
  }
  const field = (): HTMLInputElement => {
    const found = page.querySelector<HTMLInputElement>('.typing input');
    if (!found) throw new Error('there is no field to scan into');
    return found;
  };
  /** As a scanner does: the characters, then Enter. */
  function scan(text: string): void {
    field().value = text;
    field().dispatchEvent(new Event('input', { bubbles: true }));
    field().dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true }));
    settle();
    settle();
  }
  const words = (selector: string): string => page.querySelector(selector)?.textContent.replace(/\s+/g, ' ').trim() ?? '';

  it('begins with an empty basket, the drawer and what was put aside', () => {
    expect(words('t-empty')).toContain('The basket is empty');
    expect(words('.drawer')).toContain('DR-3 has 120.50 CHF in it');
    expect(words('.parked')).toBe('Alt+1 Veil and 2 more · Tobin');
  });

  it('shows each line with what it costs, says where less is there than is sold, and empties the field for the next scan', () => {
    scan('PAIL');
    expect(field().value).toBe('');
    scan('2*');
    expect(words('tbody tr')).toMatch(/^PAIL Pail of steel Only 1 here\. ?2 each ?10\.00 ?20\.00$/);
    expect(words('.sum')).toMatch(/^Total ?20\.00 CHF ?net 16\.67 · tax 3\.33$/);
    expect(page.querySelector('t-empty')).toBeNull();
  });

  it('names what could not be taken, and keeps the rest of the basket', () => {
    scan('PAIL');
    scan('NOSUCH-9');
    expect(words('.trouble[role=status]')).toContain('Not taken: NOSUCH-9');
    expect(page.querySelectorAll('tbody tr')).toHaveLength(1);
  });

  it('asks for money at Enter, takes the cash handed over once, and shows the change with the receipt', () => {
    scan('PAIL');
    scan('');
    expect(words('.sum')).toContain('Still to pay');
    expect(words('.typing')).toContain('Cash handed over');
    scan('30');
    const sent = client.asked.filter(({ path }) => path === api.counter.sell.path);
    expect(sent).toHaveLength(1);
    expect(words('.sum')).toMatch(/^Change ?10\.00 CHF$/);
    expect(words('t-receipt-strip')).toContain('CS-9');
  });
});
