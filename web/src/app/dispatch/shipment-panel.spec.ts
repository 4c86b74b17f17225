import '@angular/compiler';
import { beforeEach, describe, expect, it } from 'vitest';
import { api, type Right, type ShipmentView } from '@terrace/contract';
import { FakeClient } from '../testing/fake-client';
import { offered, panelWith, press } from '../testing/panel';
import type { LineQuantities } from '../ui/line-quantities';
import { ShipmentPanel } from './shipment-panel';

const shipment: ShipmentView = {
  id: 7,
  number: 'SH-7',
  order: 'CO-5',
  orderId: 5,
  customer: 'Tarnside',
  customerId: 2,
  warehouse: 'WORKS',
  warehouseId: 1,
  state: 'draft',
  date: '2027-03-01',
  carrier: '',
  address: 'Tarn Lane 1',
  invoiced: false,
  version: 6,
  lines: [
    {
      id: 1,
      orderLineId: 11,
      itemId: 101,
      code: 'SMOKER',
      description: 'Smoker',
      unit: 'each',
      decimals: 0,
      quantity: '3',
      ordered: '5',
      outstanding: '5',
      bin: 'A-01',
      tracking: 'lot',
      picked: [],
      proposed: [],
    },
  ],
};
const ALL: readonly Right[] = ['dispatch.ship', 'accounts.invoice'];

const SLIP = 'Packing slip (PDF)';

describe('a shipment', () => {
  let client: FakeClient;
  const shown = (more: Partial<ShipmentView>, rights = ALL) => {
    client.answer(api.dispatch.getShipment, () => ({ ...shipment, ...more }));
    return panelWith(ShipmentPanel, client, rights, 7);
  };
  beforeEach(() => {
    client = new FakeClient();
  });

  it.each([
    ['a draft', { state: 'draft' }, ['Print pick list and start picking', 'Ship SH-7: stock leaves', 'Drop it']],
    ['being picked', { state: 'picking' }, ['Print pick list again', 'Ship SH-7: stock leaves', 'Drop it', SLIP]],
    ['shipped', { state: 'shipped' }, [SLIP, 'Pick list (PDF)', 'Invoice it', 'Take back']],
    ['invoiced', { state: 'shipped', invoiced: true }, [SLIP, 'Pick list (PDF)']],
    ['cancelled', { state: 'cancelled' }, ['Pick list (PDF)']],
  ] as const)('that is %s offers what can be done with it, by whoever may', (_, more, words) => {
    expect(offered(shown(more).panel)).toEqual(words);
    const papers = [SLIP, 'Pick list (PDF)'];
    expect(offered(shown(more, []).panel)).toEqual(more.state === 'shipped' || more.state === 'picking' ? papers : papers.slice(1));
  });

  it('keeps what was changed before anything else is done with it', () => {
    const { panel } = shown({});
    const { leaving } = panel as unknown as { leaving: LineQuantities };
    leaving.type(11, '2');
    leaving.name(11, [{ lot: 'L1', quantity: '2' }]);
    expect(offered(panel)).toEqual(['Keep the changes', '(Print pick list and start picking)', '(Ship SH-7: stock leaves)', 'Drop it']);
    client.answer(api.dispatch.changeShipment, () => ({
      ...shipment,
      version: 7,
      lines: shipment.lines.map((line) => ({ ...line, quantity: '2', picked: [{ lot: 'L1', serial: '', quantity: '2', expiry: null }] })),
    }));
    press(panel, 'Keep the changes');
    expect(client.asked.at(-1)?.call.body).toEqual({
      version: 6,
      carrier: '',
      lines: [{ orderLineId: 11, quantity: '2', pieces: [{ lot: 'L1', quantity: '2' }] }],
    });
    expect(offered(panel)[0]).toBe('Print pick list and start picking');
  });

  it('is invoiced by itself, and leads to the invoice', () => {
    client.answer(api.selling.invoiceOrder, () => ({ id: 32 }));
    const { panel, visited } = shown({ state: 'shipped' });
    press(panel, 'Invoice it');
    expect(client.asked.at(-1)?.call).toMatchObject({ params: { id: 5 }, body: { shipmentId: 7 } });
    expect(visited).toEqual(['/accounts/invoices/32']);
  });
});
