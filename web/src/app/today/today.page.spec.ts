import '@angular/compiler';
import { describe, expect, it } from 'vitest';
import { api, type TodayView } from '@terrace/contract';
import { FakeClient } from '../testing/fake-client';
import { screenWith } from '../testing/panel';
import { TodayPage } from './today.page';

type Waiting = TodayView['waiting'][number];
const box = (more: Partial<Waiting>): Waiting => ({
  key: 'late',
  label: 'Orders late',
  count: 1,
  urgent: 0,
  detail: '',
  link: '/selling?view=late',
  first: [],
  ...more,
});
const view = (waiting: readonly Waiting[]): TodayView => ({
  today: '2027-03-01',
  waiting: [...waiting],
  figures: [
    {
      key: 'intake',
      label: 'Order intake',
      period: 'this week',
      value: '1200.00',
      beforePeriod: 'last week',
      before: '800.00',
      trend: [1, 2, 3, 4, 5, 6, 7, 8],
      link: '/selling?view=all&from=2027-03-01',
    },
  ],
});

describe('what waits today', () => {
  const shown = (waiting: readonly Waiting[]): HTMLElement => {
    const client = new FakeClient();
    client.answer(api.platform.today, () => view(waiting));
    return screenWith(TodayPage, client, ['selling.see', 'planning.see']).page;
  };
  const links = (page: HTMLElement): string[] => [...page.querySelectorAll('a')].map((each) => each.getAttribute('href') ?? '');

  it('leads where it says: each count, each of the first, the rest of them and each figure, with what they are narrowed by', () => {
    const page = shown([
      box({ count: 5, first: [{ text: 'CO-1004', detail: 'Tarnside', date: '2027-03-01', link: '/selling/orders/4' }] }),
      box({
        key: 'plan',
        link: '/planning?within=7',
        first: [{ text: 'CAGE 2 each', detail: 'make', date: '2027-03-01', link: '/planning?order=7&within=3' }],
      }),
    ]);
    expect(links(page)).toEqual([
      '/selling?view=late',
      '/selling/orders/4',
      '/selling?view=late',
      '/planning?within=7',
      '/planning?order=7&within=3',
      '/selling?view=all&from=2027-03-01',
    ]);
  });

  it('says what is urgent, how many more there are, and what does not wait', () => {
    const page = shown([
      box({ count: 3, urgent: 2, detail: '2 since last week', first: [{ text: 'CO-1', detail: '', date: '2027-03-01', link: '/selling/orders/1' }] }),
      box({ key: 'pick', label: 'Shipments to pick', count: 0 }),
    ]);
    expect(page.querySelector('article.urgent')?.textContent).toContain('▲ 2 since last week');
    expect(page.textContent).toContain('and 2 more');
    expect(page.textContent).toContain('Nothing waits under: shipments to pick.');
  });

  it('is nothing for whom nothing waits', () => {
    expect(shown([]).textContent).toContain('Nothing waits for you.');
  });
});
