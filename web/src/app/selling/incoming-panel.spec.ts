import '@angular/compiler';
import { TestBed } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import { api, type IncomingView } from '@terrace/contract';
import { NO_CHOICES } from '../client/choices';
import { FakeClient } from '../testing/fake-client';
import { offered, panelWith, press } from '../testing/panel';
import { IncomingPanel } from './incoming-panel';

type Line = IncomingView['lines'][number];
const said = {
  theirCode: 'HB-77',
  ourCode: '',
  barcode: '',
  description: 'Smoker, large',
  quantity: '2',
  unit: 'EA',
  price: '31.00',
  requiredDate: '',
  note: '',
};
const line = (id: string, more: Partial<Line> = {}): Line => ({
  id,
  said,
  itemId: 9,
  code: 'SMOKER',
  itemDescription: 'Smoker of steel',
  baseUnit: 'each',
  quantity: '2',
  price: '31.00',
  ourPrice: '36.00',
  problems: [],
  ...more,
});
const came = (more: Partial<IncomingView> = {}): IncomingView => ({
  id: 4,
  number: 'IN-4',
  at: '2027-03-01T08:15:00.000Z',
  fileName: 'order-88.xml',
  source: 'ubl',
  state: 'waiting',
  version: 6,
  reference: '88',
  buyer: 'Hollin Lane Farm Shop',
  shipTo: '',
  note: '',
  currency: 'CHF',
  requiredDate: '2027-03-09',
  customerId: 1,
  customer: 'Hollin Lane Farm Shop',
  orderId: null,
  order: '',
  why: '',
  problems: [],
  lines: [line('1')],
  ...more,
});

describe('an order in the tray', () => {
  let client: FakeClient;
  beforeEach(() => {
    client = new FakeClient();
    client.answer(api.catalogue.choices, () => ({
      ...NO_CHOICES,
      customers: [{ id: 1, code: 'HOLLIN', name: 'Hollin Lane Farm Shop', onHold: false }],
    }));
    client.answer(api.incoming.mendIncoming, () => came({ version: 7 }));
    client.answer(api.incoming.takeIncoming, () => came({ state: 'taken', orderId: 12, order: 'CO-12' }));
  });
  const shown = (record: IncomingView, rights: Parameters<typeof panelWith>[2] = ['selling.see', 'selling.edit']) => {
    client.answer(api.incoming.getIncoming, () => record);
    return panelWith(IncomingPanel, client, rights, 4);
  };
  const row = (page: HTMLElement): string => page.querySelector('t-sheet tbody tr')?.textContent.replace(/\s+/g, ' ').trim() ?? '';
  const button = (page: HTMLElement, words: RegExp): HTMLButtonElement | undefined =>
    [...page.querySelectorAll('button')].find((each) => words.test(each.textContent.replace(/\s+/g, ' ').trim()));
  const mended = () =>
    client.asked.filter(({ path, call }) => path === api.incoming.mendIncoming.path && call.body !== undefined).map(({ call }) => call.body);

  it('that matches shows what they say beside what we take it for, and becomes an order once', () => {
    const { panel, page } = shown(came());
    expect(row(page)).toMatch(/HB-77 ?Smoker, large ?2 EA at 31\.00 ?SMOKER ?Smoker of steel ?2 each ?31\.00/);
    expect(offered(panel)).toContain('Make it an order');
    press(panel, 'Make it an order');
    expect(client.asked.filter(({ path }) => path === api.incoming.takeIncoming.path)).toHaveLength(1);
  });

  it('at another price than ours waits with both beside each other; one of them is taken, with the version that was seen', () => {
    const { panel, page } = shown(came({ lines: [line('1', { problems: [{ problem: 'price', words: 'They say 31.00, our price is 36.00.' }] })] }));
    expect(offered(panel).some((words) => words.includes('1 to mend first'))).toBe(true);
    expect(page.textContent).toContain('They say 31.00, our price is 36.00.');
    button(page, /^36\.00 ours$/)?.click();
    TestBed.tick();
    expect(mended()).toMatchObject([{ version: 6, lines: [{ id: '1', price: 'ours' }] }]);
  });

  it('that came before waits until somebody says that it is another', () => {
    const { page } = shown(came({ problems: [{ problem: 'cameBefore', words: 'CO-9 has their number 88 already.' }] }));
    expect(page.textContent).toContain('CO-9 has their number 88 already.');
    button(page, /^It is another order$/)?.click();
    TestBed.tick();
    expect(mended()).toMatchObject([{ version: 6, again: true }]);
  });

  it('can only be looked at by who may not enter orders', () => {
    const { panel, page } = shown(came({ lines: [line('1', { problems: [{ problem: 'price', words: 'Another price.' }] })] }), ['selling.see']);
    expect(offered(panel)).toEqual([]);
    expect(button(page, /ours$/)).toBeUndefined();
    expect(row(page)).toContain('31.00');
  });
});
