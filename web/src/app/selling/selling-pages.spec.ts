import '@angular/compiler';
import { TestBed } from '@angular/core/testing';
import { throwError } from 'rxjs';
import { beforeEach, describe, expect, it } from 'vitest';
import { api, type ChargeRuleView, type SellingFigures } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { FakeClient } from '../testing/fake-client';
import { screenWith } from '../testing/panel';
import { ChargesPage } from './charges.page';
import { FiguresPage } from './figures.page';
import { OrderBookPage } from './order-book.page';

let client: FakeClient;
beforeEach(() => {
  client = new FakeClient();
});

describe('charges by rule', () => {
  interface Inside {
    readonly rules: () => readonly ChargeRuleView[];
    readonly draft: () => { readonly id: number; readonly steps: readonly { from: string; price: string }[]; readonly code: string };
    readonly entry: { readonly problem: () => Problem | null };
    readonly set: (change: object) => void;
    readonly take: (rule: ChargeRuleView) => void;
    readonly takeItem: (item: object | null) => void;
    readonly addStep: () => void;
    readonly save: () => void;
  }
  const rule: ChargeRuleView = {
    id: 3,
    version: 2,
    itemId: 9,
    code: 'FREIGHT',
    description: 'Freight',
    by: 'weight',
    carrier: '',
    active: true,
    steps: [{ from: '0', price: '6.90' }],
  };
  const shown = (): Inside => {
    client.answer(api.selling.chargeRules, () => [rule]);
    return screenWith(ChargesPage, client, ['selling.price', 'selling.see']).screen as unknown as Inside;
  };
  const sent = (path: string) => client.asked.filter((each) => each.path === path && each.call.body !== undefined).map(({ call }) => call);

  it('are added with the steps that were typed, and the list is read again', () => {
    const page = shown();
    client.answer(api.selling.addChargeRule, () => rule);
    page.takeItem({ id: 9, code: 'FREIGHT' });
    page.addStep();
    page.set({
      by: 'value',
      steps: [
        { from: '0', price: '7.50' },
        { from: '100', price: '0' },
        { from: '', price: '' },
      ],
    });
    page.save();
    expect(sent('/selling/charge-rules')).toEqual([
      {
        body: {
          itemId: 9,
          by: 'value',
          carrier: '',
          active: true,
          steps: [
            { from: '0', price: '7.50' },
            { from: '100', price: '0' },
          ],
        },
      },
    ]);
    expect([page.draft().id, page.draft().code]).toEqual([0, '']);
    expect(client.asked.filter(({ path }) => path === '/selling/charge-rules')).toHaveLength(3);
  });

  it('are changed as they were seen; what is refused stays as it was typed', () => {
    const page = shown();
    client.answer(api.selling.changeChargeRule, () => throwError(() => new Problem('staleVersion', 'It was changed meanwhile.', {}, {})));
    page.take(rule);
    page.set({ carrier: 'Moorland Parcels' });
    page.save();
    expect(sent('/selling/charge-rules/:id')[0]).toMatchObject({ params: { id: 3 }, body: { version: 2, carrier: 'Moorland Parcels' } });
    expect([page.entry.problem()?.code, page.draft().code]).toEqual(['staleVersion', 'FREIGHT']);
  });
});

describe('figures of selling', () => {
  const figures: SellingFigures = {
    from: '2027-01-06',
    until: '2027-03-01',
    weeks: [],
    intake: '60.00',
    backlog: '30.00',
    promised: { lines: 3, kept: 2 },
    wished: { lines: 0, kept: 0 },
    late: [],
    by: 'customer',
    margins: [],
    margin: { revenue: '0.00', cost: '0.00', margin: '0.00', share: null },
    lost: [],
  };
  interface Inside {
    readonly from: { set: (day: string) => void };
    readonly by: { set: (by: string) => void };
    readonly kept: () => readonly { readonly share: number | null }[];
    readonly figures: () => SellingFigures | null;
    readonly problem: () => Problem | null;
    readonly takenIn: (week: string, of: SellingFigures) => object;
  }
  it('are asked for as they are looked at, and say a share only where something was due', () => {
    client.answer(api.selling.figures, () => figures);
    const page = screenWith(FiguresPage, client, ['accounts.see']).screen as unknown as Inside;
    expect(page.kept().map(({ share }) => share)).toEqual([67, null]);
    page.from.set('2027-02-01');
    page.by.set('group');
    TestBed.tick();
    expect(client.asked.map(({ call }) => call.query)).toEqual([{ by: 'customer' }, { by: 'group', from: '2027-02-01' }]);
  });

  it('open the orders of a week, as far as it is of the time that is looked at', () => {
    client.answer(api.selling.figures, () => figures);
    const page = screenWith(FiguresPage, client, ['accounts.see']).screen as unknown as Inside;
    expect(page.takenIn('2027-01-04', figures)).toEqual({ view: 'taken', from: '2027-01-06', until: '2027-01-10' });
    expect(page.takenIn('2027-03-01', figures)).toEqual({ view: 'taken', from: '2027-03-01', until: '2027-03-01' });
  });

  it('that can’t be had say why, and leave what is there', () => {
    client.answer(api.selling.figures, () => figures);
    const page = screenWith(FiguresPage, client, ['accounts.see']).screen as unknown as Inside;
    client.answer(api.selling.figures, () => throwError(() => new Problem('badDate', 'No such day.', {}, {})));
    page.from.set('2027-13-01');
    TestBed.tick();
    expect([page.problem()?.message, page.figures()?.intake]).toEqual(['No such day.', '60.00']);
  });
});

describe('the order book', () => {
  const views = (inputs: object): string[] => {
    client.answer(api.selling.listOrders, () => ({ rows: [], total: 0 }));
    const { page } = screenWith(OrderBookPage, client, ['selling.see'], inputs);
    return [...page.querySelectorAll('t-one-of .ant-radio-button-wrapper')].map((view) => view.textContent.trim());
  };
  it('has a view of its own for what a figure opens, and no other', () => {
    const always = ['Open', 'To confirm', 'Can ship', 'Late', 'In danger', 'All'];
    expect(views({})).toEqual(always);
    expect(views({ view: 'taken', from: '2027-02-01', until: '2027-02-07' })).toEqual([...always, 'Taken 1 Feb to 7 Feb']);
    expect(views({ view: 'taken' })).toEqual(always);
    expect(views({ view: 'toShip' })).toEqual([...always, 'To ship']);
  });
});
