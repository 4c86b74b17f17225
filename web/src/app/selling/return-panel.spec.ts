import '@angular/compiler';
import { beforeEach, describe, expect, it } from 'vitest';
import { api, type ReturnView, type Right } from '@terrace/contract';
import { FakeClient } from '../testing/fake-client';
import { offered, panelWith, press, type PanelParts } from '../testing/panel';
import { ReturnPanel } from './return-panel';

const line = {
  id: 3,
  shipmentLineId: 5,
  itemId: 1,
  code: 'PAIL',
  description: 'Pail',
  unit: 'each',
  lot: '',
  serial: '',
  shipment: 'SH-1',
  quantity: '2',
  received: '0',
  decided: '0',
  credited: '0',
  invoiced: true,
};
const back: ReturnView = {
  id: 7,
  number: 'RET-7',
  customerId: 2,
  customer: 'Tarnside',
  orderId: 4,
  order: 'CO-4',
  warehouseId: 1,
  warehouse: 'WORKS',
  date: '2027-03-01',
  reason: 'dented',
  state: 'authorised',
  version: 6,
  lines: [line],
  decisions: [],
  credits: [],
  replacementId: null,
  replacement: '',
};
const ALL: readonly Right[] = ['stores.adjust', 'accounts.invoice', 'selling.edit'];
const PRINT = 'Print the slip (PDF)';
/** What the template shows and does. */
interface Inside extends PanelParts {
  readonly step: () => string;
  readonly sent: () => readonly object[];
  readonly decide: (back: ReturnView, decision: 'restock' | 'scrap') => void;
}

describe('a return', () => {
  let client: FakeClient;
  const shown = (more: Partial<ReturnView>, rights = ALL): Inside => {
    client.answer(api.returns.getReturn, () => ({ ...back, ...more }));
    return panelWith(ReturnPanel, client, rights, 7).panel as unknown as Inside;
  };
  beforeEach(() => {
    client = new FakeClient();
  });

  it.each([
    ['to come', {}, ['Take in what came', 'Replace it', PRINT, 'Cancel it']],
    ['held', { state: 'arrived', lines: [{ ...line, received: '2' }] }, ['Give the money back', 'Replace it', PRINT, 'Take back what was taken in']],
    ['decided and credited', { state: 'done', lines: [{ ...line, received: '2', decided: '2', credited: '2' }] }, [PRINT]],
    ['replaced', { replacementId: 9, replacement: 'CO-9', lines: [{ ...line, received: '2', decided: '2' }] }, [PRINT]],
    ['cancelled', { state: 'cancelled' }, []],
  ] as const)('that is %s offers what can be done with it', (_, more, words) => {
    expect(offered(shown(more as Partial<ReturnView>))).toEqual(words);
  });

  it('says what was given back, and nothing of what has been taken back since', () => {
    const credit = (id: number, state: string) => ({ id, number: `CR-${id}`, total: '-24.00', currency: 'CHF', state });
    const given = (credits: ReturnView['credits']) =>
      shown({ credits })
        .facts()
        .find(({ title }) => title === 'Given back');
    expect(given([credit(1, 'reversed'), credit(2, 'paid')])).toMatchObject({ value: 'CR-2 24.00 CHF', page: ['/accounts/invoices', 2] });
    expect(given([credit(1, 'reversed')])?.value).toBe('');
  });

  it('offers nothing but its slip to whoever may only look', () => {
    expect(offered(shown({}, []))).toEqual([PRINT]);
  });

  it('takes in all that is to come, and decides on what is held with the version that was seen', () => {
    const panel = shown({});
    const held = { ...back, version: 8, state: 'arrived' as const, lines: [{ ...line, received: '2' }] };
    client.answer(api.returns.receiveReturn, () => held);
    press(panel, 'Take in what came');
    expect(client.asked.at(-1)?.call).toMatchObject({ params: { id: 7 }, body: { version: 6, lines: [{ lineId: 3, quantity: '2' }] } });
    expect(panel.step()).toBe('decide');
    client.answer(api.returns.decideReturn, () => ({ ...held, state: 'done', lines: [{ ...line, received: '2', decided: '2' }] }));
    panel.decide(held, 'restock');
    expect(client.asked.at(-1)?.call).toMatchObject({ body: { version: 8, decision: 'restock', reason: '', lines: [{ lineId: 3, quantity: '2' }] } });
    expect(panel.step()).toBe('');
  });
});
