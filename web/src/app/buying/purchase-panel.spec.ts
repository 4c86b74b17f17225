import '@angular/compiler';
import { TestBed } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import { api, type PurchaseView, type Right } from '@terrace/contract';
import { FakeClient } from '../testing/fake-client';
import { offered, panelWith, press } from '../testing/panel';
import type { LineQuantities } from '../ui/line-quantities';
import { PurchasePanel } from './purchase-panel';

const line = (id: number, more: Partial<PurchaseView['lines'][number]> = {}): PurchaseView['lines'][number] => ({
  id,
  position: id,
  itemId: 100 + id,
  code: `ITEM-${id}`,
  description: 'Wire',
  supplierItemCode: '',
  unit: 'm',
  decimals: 2,
  tracking: 'none',
  quantity: '10',
  price: '1.50',
  dueDate: '2027-03-05',
  received: '0',
  cancelled: '0',
  outstanding: '10',
  most: '10',
  amount: '15.00',
  ...more,
});
const order: PurchaseView = {
  id: 7,
  number: 'PO-7',
  state: 'draft',
  supplierId: 1,
  supplier: 'Ironbeck',
  warehouseId: 1,
  warehouse: 'WORKS',
  orderDate: '2027-03-01',
  custom: {},
  note: '',
  lines: [line(1), line(2)],
  total: '30.00',
  approval: 'Every purchase order is approved.',
  version: 4,
  receipts: [],
};
const ALL: readonly Right[] = ['buying.edit', 'buying.approve', 'buying.receive'];

interface Parts {
  readonly arrived: LineQuantities;
  readonly receiveWords: () => string;
  readonly receive: () => void;
  readonly allArrived: () => void;
}

describe('a purchase order', () => {
  let client: FakeClient;
  const shown = (more: Partial<PurchaseView>, rights = ALL) => {
    client.answer(api.buying.getPurchase, () => ({ ...order, ...more }));
    return panelWith(PurchasePanel, client, rights, 7).panel;
  };
  beforeEach(() => {
    client = new FakeClient();
  });

  it.each([
    ['draft', ['Approve 30.00 CHF', 'Change', 'Print (PDF)', 'Cancel the order']],
    ['approved', ['Send to Ironbeck', 'Change', 'Print (PDF)', 'Cancel the order']],
    ['sent', ['Print (PDF)', 'Cancel the order']],
    ['partReceived', ['Print (PDF)', 'Cancel the rest']],
    ['received', ['Print (PDF)']],
    ['cancelled', ['Print (PDF)']],
  ] as const)('that is %s offers what can be done with it, by whoever may', (state, words) => {
    expect(offered(shown({ state }))).toEqual(words);
    expect(offered(shown({ state }, []))).toEqual(['Print (PDF)']);
  });

  it('is approved and cancelled as it was seen, with the reason', () => {
    const panel = shown({});
    client.answer(api.buying.approvePurchase, () => ({ ...order, state: 'approved', version: 5 }));
    press(panel, 'Approve 30.00 CHF');
    expect(client.asked.at(-1)?.call).toMatchObject({ params: { id: 7 }, body: { version: 4 } });
    client.answer(api.buying.cancelPurchase, () => ({ ...order, state: 'cancelled' }));
    press(panel, 'Cancel the order', 'not needed');
    expect(client.asked.at(-1)?.call).toMatchObject({ params: { id: 7 }, body: { version: 5, reason: 'not needed' } });
  });

  it('says what will be received, and receives only the lines that something is typed for', () => {
    const panel = shown({ state: 'sent' }) as unknown as Parts;
    expect(panel.receiveWords()).toBe('Receive');
    panel.arrived.type(1, '4.5');
    panel.arrived.type(2, '0');
    expect(panel.receiveWords()).toBe('Receive 4.5 m of ITEM-1');
    client.answer(api.buying.receive, () => ({ ...order, state: 'partReceived', version: 5 }));
    panel.receive();
    expect(client.asked.at(-1)?.call.body).toEqual({ version: 4, deliveryNote: '', lines: [{ lineId: 1, quantity: '4.5' }] });
    TestBed.tick();
    expect(panel.arrived.of(1)).toBe('');
  });

  it('fills in all that is still to come', () => {
    const panel = shown({ state: 'partReceived', lines: [line(1, { outstanding: '2.50' }), line(2, { outstanding: '0' })] }) as unknown as Parts;
    panel.allArrived();
    expect([panel.arrived.of(1), panel.arrived.of(2)]).toEqual(['2.5', '']);
  });
});
