/** What Today counts is what the list shows that it opens. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, viewFilter, type AnyRoute, type ListFilter, type TodayView, type VIEWS } from '@terrace/contract';
import { addDays } from '@terrace/core';
import { TODAY, openDemo, type DemoDesk } from './testing/desk';

let desk: DemoDesk;
beforeAll(async () => {
  desk = await openDemo();
}, 120_000);
afterAll(() => desk.close());

describe('a figure on Today', () => {
  /** The list that a page shows, and its views. */
  const LISTS: Readonly<Record<string, { readonly route: AnyRoute; readonly views?: keyof typeof VIEWS }>> = {
    '/selling': { route: api.selling.listOrders, views: 'orders' },
    '/selling/quotes': { route: api.selling.listQuotes, views: 'quotes' },
    '/selling/incoming': { route: api.incoming.listIncoming, views: 'incoming' },
    '/selling/returns': { route: api.returns.listReturns, views: 'returns' },
    '/dispatch': { route: api.dispatch.listShipments, views: 'shipments' },
    '/buying': { route: api.buying.listPurchases, views: 'purchases' },
    '/production': { route: api.production.listProduction, views: 'production' },
    '/stores/transfers': { route: api.stores.listTransfers, views: 'transfers' },
    '/accounts': { route: api.accounts.listInvoices, views: 'invoices' },
    '/planning': { route: api.planning.listSuggestions },
  };

  /** How many a link shows, asked as the page asks. */
  async function shownBy(link: string): Promise<number> {
    const { pathname, searchParams } = new URL(link, 'http://terrace.example');
    // This page shows all of it.
    if (pathname === '/selling/waiting') return ((await (await desk.ask(api.selling.freeForWaiting.path)).json()) as { rows: unknown[] }).rows.length;
    const list = LISTS[pathname];
    if (!list) throw new RangeError(`nothing is known of ${link}`);
    const filter: ListFilter = list.views ? viewFilter(list.views, searchParams.get('view') ?? 'all') : {};
    const within = searchParams.get('within');
    const answer = await desk.ask(list.route.path, {
      limit: 1,
      filter: JSON.stringify(filter),
      ...(within === null ? {} : { within, ignored: 'no' }),
    });
    return ((await answer.json()) as { total: number }).total;
  }

  it('is as many as the list that it opens shows, on every day of a fortnight', async () => {
    const seen = new Map<string, number>();
    for (let days = 0; days < 14; days += 1) {
      const day = addDays(TODAY, days);
      desk.turnTo(day);
      const { waiting } = (await (await desk.ask('/today')).json()) as TodayView;
      for (const { key, count, urgent, link, first } of waiting) {
        expect([day, key, count]).toEqual([day, key, await shownBy(link)]);
        expect(urgent).toBeLessThanOrEqual(count);
        expect(first).toHaveLength(Math.min(3, count));
        seen.set(key, Math.max(count, seen.get(key) ?? 0));
      }
    }
    desk.turnTo(TODAY);
    // There is something of nearly everything to count.
    expect([...seen].filter(([, most]) => most > 0).length).toBeGreaterThan(7);
  });
});
