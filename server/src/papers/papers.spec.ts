/** The papers of documents: what stands on each, in the company's currency, and for whom. */
import request from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, type Role } from '@terrace/contract';
import { documentSpecs, paperOfKind } from '../platform/documents';
import type { Paper } from '../platform/paper';
import { keepSetting } from '../platform/settings';
import type { Work } from '../platform/work';
import { openCompany, type Client, type Company, somebody } from '../testing/company';

let company: Company;
let manager: Client;
/** Kinds of documents that have a paper, with one of each. */
const made: Record<string, number> = {};

const lookAs = (role: Role): Work => company.terrace.commands.look(somebody(role));
const paperOf = (kind: string): Omit<Paper, 'letterhead'> | undefined => paperOfKind(kind)?.make(lookAs('manager'), made[kind] ?? 0);

beforeAll(async () => {
  company = await openCompany();
  manager = await company.as('manager');
  keepSetting(company.terrace.store, 'currency', 'CHF');
  company.terrace.store.sqlite.exec(
    "insert into currency values ('CHF', 'Swiss franc') on conflict do nothing; update customer set currency = 'CHF'",
  );
  const [item, warehouse] = [company.id('item', 'SMOKER'), company.id('warehouse', 'WORKS')];
  const order = await manager.call(api.selling.createOrder, {
    body: {
      customerId: company.id('customer', 'HOLLIN'),
      warehouseId: warehouse,
      requiredDate: '2027-03-20',
      lines: [{ itemId: item, quantity: '2' }],
    },
  });
  await manager.call(api.selling.confirmOrder, { params: { id: order.id }, body: { version: order.version } });
  let shipment = await manager.call(api.dispatch.createShipment, { body: { orderId: order.id } });
  shipment = await manager.call(api.dispatch.startPicking, { params: { id: shipment.id }, body: { version: shipment.version } });
  shipment = await manager.call(api.dispatch.ship, { params: { id: shipment.id }, body: { version: shipment.version } });
  made['customerOrder'] = order.id;
  made['shipment'] = shipment.id;
  made['invoice'] = (await manager.call(api.selling.invoiceOrder, { params: { id: order.id }, body: { shipmentId: shipment.id } })).id;
  const [piece] = await manager.call(api.returns.returnable, { params: { id: order.id } });
  made['customerReturn'] = (
    await manager.call(api.returns.authorise, {
      body: { orderId: order.id, reason: 'dented', lines: [{ shipmentLineId: piece?.shipmentLineId ?? 0, quantity: '1' }] },
    })
  ).id;
  made['purchaseOrder'] = (
    await manager.call(api.buying.createPurchase, {
      body: {
        supplierId: company.id('supplier', 'METAL'),
        warehouseId: warehouse,
        lines: [{ itemId: company.id('item', 'BAR'), quantity: '10', price: '1.5', dueDate: '2027-03-10' }],
      },
    })
  ).id;
  made['adjustment'] = (
    await manager.call(api.stores.adjust, {
      body: { warehouseId: warehouse, reason: 'BREAKAGE', note: 'behind the shelf', lines: [{ itemId: item, binId: 1, change: '-1' }] },
    })
  ).id;
  made['transfer'] = (
    await manager.call(api.stores.requestTransfer, {
      body: {
        fromId: warehouse,
        toId: company.id('warehouse', 'DEPOT'),
        shipDate: '2027-03-02',
        dueDate: '2027-03-04',
        lines: [{ itemId: item, quantity: '1' }],
      },
    })
  ).id;
});
afterAll(() => company.close());

describe('papers', () => {
  it('are there of the kinds that say so, each with its number, a line for each of its lines, and as a PDF', async () => {
    const kinds = documentSpecs().flatMap((spec) => (spec.paper ? [spec.kind] : []));
    expect([...kinds].sort()).toEqual(Object.keys(made).sort());
    for (const kind of kinds) {
      const paper = paperOf(kind);
      expect(paper?.number, kind).toMatch(/^[A-Z]+-\d+$/);
      expect(paper?.table.rows, kind).toHaveLength(1);
      for (const row of paper?.table.rows ?? []) expect(row, kind).toHaveLength(paper?.table.head.length ?? 0);
      const pdf = await manager.agent.get(`/api/papers/${kind}/${made[kind] ?? 0}`).buffer(true);
      expect([pdf.type, (pdf.body as Buffer).subarray(0, 5).toString()], kind).toEqual(['application/pdf', '%PDF-']);
      expect(pdf.headers['content-disposition'], kind).toContain(`${paper?.number ?? ''}.pdf`);
    }
  });

  it('of an order say what is confirmed and how it is paid; of a draft, that it is one', async () => {
    expect(paperOf('customerOrder')).toMatchObject({ title: 'Order confirmation', note: 'To be paid within 14 days.' });
    expect(paperOf('customerOrder')?.table.rows[0]).toEqual(expect.arrayContaining(['2', '36.00', '2027-03-20']));
    const { lines } = await manager.call(api.selling.getOrder, { params: { id: made['customerOrder'] ?? 0 } });
    const draft = await manager.call(api.selling.createOrder, {
      body: { customerId: 1, warehouseId: 1, requiredDate: '2027-03-20', lines: lines.map(({ itemId, quantity }) => ({ itemId, quantity })) },
    });
    made['draft'] = draft.id;
    const pdf = await manager.agent.get(`/api/papers/customerOrder/${draft.id}`).buffer(true);
    expect(pdf.type).toBe('application/pdf');
    delete made['draft'];
  });

  it('of an order go to the customer by mail, once it is confirmed and where there is an address', async () => {
    const id = made['customerOrder'] ?? 0;
    const { version, number } = await manager.call(api.selling.getOrder, { params: { id } });
    const mail = { params: { id }, body: { version } };
    expect((await manager.refused(api.selling.mailConfirmation, mail)).code).toBe('noAddress');
    company.terrace.store.sqlite.exec("update customer set email = 'farm@hollin.example'");
    await manager.call(api.selling.mailConfirmation, mail);
    const administrator = await company.as('administrator');
    const { rows } = await administrator.call(api.platform.outbox, { query: { find: number } });
    expect(rows[0]).toMatchObject({ to: 'farm@hollin.example', subject: `Order confirmation ${number}`, document: number });
  });

  it('name the company’s currency where they name amounts', () => {
    const words = JSON.stringify(['invoice', 'purchaseOrder', 'adjustment'].map((kind) => paperOf(kind)));
    expect(words.match(/CHF/g)).toHaveLength(4);
    expect(words).not.toContain('EUR');
    expect(paperOf('purchaseOrder')?.totals).toEqual([['Total CHF', '15.00']]);
  });

  it('and whoever is set up without a currency has that of the company', async () => {
    const { id } = await manager.call(api.catalogue.createCustomer, { body: { code: 'NEAR', name: 'Near By' } });
    expect((await manager.call(api.catalogue.getCustomer, { params: { id } })).currency).toBe('CHF');
  });

  it('say what they are for: the pick list its bin and code to scan, the invoice what is to be paid', () => {
    expect(paperOf('shipment')?.table.rows[0]).toEqual(expect.arrayContaining([{ scan: 'SMOKER' }, '2', 'each']));
    expect(paperOf('transfer')).toMatchObject({
      title: 'Pick list for a transfer',
      to: [expect.stringContaining('DEPOT'), expect.stringContaining('WORKS')],
    });
    expect(paperOf('adjustment')).toMatchObject({ title: 'Adjustment', note: 'behind the shelf' });
    expect(paperOf('invoice')?.note).toMatch(/^Please pay by 2027-03-15, naming INV-\d+\. Terms: within 14 days\.$/);
  });

  it('are refused to whoever is not signed in, and there is none of other kinds or numbers', async () => {
    expect((await request(company.terrace.app).get(`/api/papers/invoice/${made['invoice'] ?? 0}`)).status).toBe(401);
    for (const kind of ['payment', 'nothing']) expect((await manager.agent.get(`/api/papers/${kind}/1`)).status, kind).toBe(404);
    expect((await manager.agent.get('/api/papers/invoice/999')).status).toBe(404);
  });
});
