/** The papers of each document, ready to render, and who may see them. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Response, Router } from 'express';
import type { Content } from 'pdfmake/interfaces';
import type { Right } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import { purchaseView } from '../buying';
import { customerOf, supplierOf } from '../catalogue';
import { shipmentView } from '../dispatch';
import { invoiceView } from '../accounts';
import { adjustmentView, transferView } from '../stores';
import { orderChart, type LivePlanner } from '../planning';
import { labelsOf } from './labels';
import { orderChartPaper } from './order-chart';
import { query } from '../platform/query';
import { mail as mailTable } from '../platform/schema';
import { settingOf } from '../platform/settings';
import { eq } from 'drizzle-orm';
import type { Commands } from '../platform/commands';
import type { Work } from '../platform/work';
import { barcode, renderLabels, renderPaper, type Paper } from './paper';

const attachmentOf = query(
  ($: { id: number }) => (db) => db.select({ attachment: mailTable.attachment }).from(mailTable).where(eq(mailTable.id, $.id)),
);

type PaperKind = 'purchaseOrder' | 'shipment' | 'invoice' | 'transfer' | 'adjustment';

const addressOf = (party: { name: string; address: string }): string[] => [party.name, ...party.address.split('\n')];
const companyOf = (work: Work): string => settingOf(work.store, 'company') ?? 'Terrace';

const PAPERS: Readonly<Record<PaperKind, { right: Right; make: (work: Work, id: number) => Paper }>> = {
  purchaseOrder: {
    right: 'buying.see',
    make: (work, id) => {
      const order = purchaseView(work, id);
      return {
        company: companyOf(work),
        title: 'Purchase order',
        number: order.number,
        to: addressOf(supplierOf(work, order.supplierId)),
        scannable: true,
        note: order.note,
        facts: [
          ['Date', order.orderDate],
          ['Deliver to', order.warehouse],
          ['Lines', String(order.lines.length)],
        ],
        table: {
          widths: [18, '*', 60, 40, 62, 58, 62],
          right: [2, 4, 6],
          head: ['', 'Item', 'Quantity', 'Unit', 'Price', 'Due', 'Amount'],
          rows: order.lines.map((line) => [
            String(line.position),
            `${line.supplierItemCode || line.code}  ${line.description}`,
            line.quantity,
            line.unit,
            line.price,
            line.dueDate,
            line.amount,
          ]),
        },
        totals: [['Total EUR', order.total]],
      };
    },
  },
  shipment: {
    right: 'dispatch.see',
    make: (work, id) => {
      const shipment = shipmentView(work, id);
      return {
        company: companyOf(work),
        title: 'Pick list',
        number: shipment.number,
        to: addressOf({ name: shipment.customer, address: shipment.address }),
        scannable: true,
        note: shipment.carrier === '' ? '' : `Carrier: ${shipment.carrier}`,
        facts: [
          ['Order', shipment.order],
          ['Warehouse', shipment.warehouse],
          ['Date', shipment.date],
        ],
        table: {
          widths: [60, '*', 160, 52, 40, 40],
          right: [3],
          head: ['Bin', 'Item', 'Scan', 'Quantity', 'Unit', 'Picked'],
          rows: shipment.lines.map((line): (string | Content)[] => [
            line.bin || '—',
            `${line.code}\n${line.description}`,
            barcode(line.code, 24),
            line.quantity,
            line.unit,
            '[    ]',
          ]),
        },
        totals: [],
      };
    },
  },
  transfer: {
    right: 'stores.see',
    make: (work, id) => {
      const transfer = transferView(work, id);
      const leaving = transfer.state === 'requested';
      return {
        company: companyOf(work),
        title: leaving ? 'Pick list for a transfer' : 'Transfer',
        number: transfer.number,
        to: [`To ${transfer.to}`, `from ${transfer.from}`],
        scannable: true,
        note: [transfer.carrier === '' ? '' : `Carrier: ${transfer.carrier}`, transfer.note].filter((text) => text !== '').join('\n'),
        facts: [
          ['Ships', transfer.shipDate],
          ['Due', transfer.dueDate],
          ['Lines', String(transfer.lines.length)],
        ],
        table: {
          widths: [60, '*', 150, 56, 40, 50],
          right: [3],
          head: ['Bin', 'Item', 'Scan', 'Quantity', 'Unit', leaving ? 'Picked' : 'Arrived'],
          rows: transfer.lines.map((line): (string | Content)[] => [
            line.bin || '—',
            [`${line.code}  ${line.description}`, ...line.pieces.map((piece) => piece.serial || `lot ${piece.lot}: ${piece.quantity}`)].join('\n'),
            barcode(line.code, 24),
            leaving ? line.quantity : line.shipped,
            line.unit,
            '[    ]',
          ]),
        },
        totals: [],
      };
    },
  },
  adjustment: {
    right: 'stores.see',
    make: (work, id) => {
      const adjustment = adjustmentView(work, id);
      return {
        company: companyOf(work),
        title: adjustment.reversed ? 'Adjustment, taken back' : 'Adjustment',
        number: adjustment.number,
        to: [adjustment.warehouse, adjustment.reason],
        scannable: true,
        note: adjustment.note,
        facts: [
          ['Date', adjustment.date],
          ['By', adjustment.who],
          ['Account', adjustment.account],
        ],
        table: {
          widths: [50, '*', 110, 66, 40, 70],
          right: [3, 5],
          head: ['Bin', 'Item', 'Lot or number', 'Change', 'Unit', 'EUR'],
          rows: adjustment.lines.map((line) => [
            line.bin,
            `${line.code}  ${line.description}`,
            line.serial || line.lot,
            line.change,
            line.unit,
            line.value,
          ]),
        },
        totals: [['Worth EUR', adjustment.value]],
      };
    },
  },
  invoice: {
    right: 'accounts.see',
    make: (work, id) => {
      const invoice = invoiceView(work, id);
      return {
        company: companyOf(work),
        title: 'Invoice',
        number: invoice.number,
        to: addressOf(customerOf(work, invoice.customerId)),
        scannable: false,
        note: invoice.state === 'reversed' ? 'This invoice was taken back.' : `Please pay by ${invoice.dueDate}, naming ${invoice.number}.`,
        facts: [
          ['Date', invoice.date],
          ['Order', invoice.order],
          ['Due', invoice.dueDate],
        ],
        table: {
          widths: ['*', 56, 40, 60, 44, 66],
          right: [1, 3, 4, 5],
          head: ['Item', 'Quantity', 'Unit', 'Price', 'Disc. %', 'Amount'],
          rows: invoice.lines.map((line) => [`${line.code}  ${line.description}`, line.quantity, line.unit, line.price, line.discount, line.amount]),
        },
        totals: [
          ['Net', invoice.net],
          ['Tax', invoice.tax],
          ['Total EUR', invoice.total],
        ],
      };
    },
  },
};

/** Where the stand-in outbox keeps what it attached. */
export function outboxFolder(dataFolder: string): string {
  return join(dataFolder, 'outbox');
}

/** Renders a document's paper. Refuses `noPaper` and a missing right. */
export async function paperOf(work: Work, kind: string, id: number): Promise<{ name: string; content: Buffer }> {
  const source = Object.entries(PAPERS).find(([name]) => name === kind)?.[1];
  if (!source) throw new Refusal('notFound', `There is no paper of a ${kind}.`);
  work.assertMay(source.right);
  const paper = source.make(work, id);
  return { name: `${paper.number}.pdf`, content: await renderPaper(paper) };
}

/** `GET /papers/:kind/:id`, a PDF; `GET /outbox/:id/attachment`, the PDF that was sent. */
export function bindPapers(router: Router, commands: Commands, dataFolder: string, planner: LivePlanner): void {
  router.get('/outbox/:id/attachment', (request, response) => {
    const { actor } = request.session;
    if (!actor) throw new Refusal('notSignedIn', 'Sign in to see what was sent.');
    const work = commands.look(actor);
    work.assertMay('setup.see');
    const mail = attachmentOf.one(work, { id: Number(request.params.id) });
    if (!mail?.attachment) throw new Refusal('notFound', 'This mail has no attachment, or it is still being rendered.');
    response.type('application/pdf').send(readFileSync(join(outboxFolder(dataFolder), mail.attachment)));
  });
  router.get('/papers/labels/:kind/:id', async (request, response: Response) => {
    const { actor } = request.session;
    if (!actor) throw new Refusal('notSignedIn', 'Sign in to print labels.');
    const work = commands.look(actor);
    work.assertMay('stores.see');
    const copies = Number(request.query['copies'] ?? 1);
    const labels = labelsOf(work, request.params.kind, Number(request.params.id), copies);
    response
      .type('application/pdf')
      .set('content-disposition', 'inline; filename="labels.pdf"')
      .send(await renderLabels(labels));
  });
  router.get('/papers/orderChart/:id', async (request, response: Response) => {
    const { actor } = request.session;
    if (!actor) throw new Refusal('notSignedIn', 'Sign in to see documents.');
    const work = commands.look(actor);
    work.assertMay('planning.see');
    const chart = await orderChart(work, planner, Number(request.params.id));
    const content = await renderPaper(orderChartPaper(companyOf(work), chart));
    response.type('application/pdf').set('content-disposition', `inline; filename="${chart.number}-chart.pdf"`).send(content);
  });
  router.get('/papers/:kind/:id', async (request, response: Response) => {
    const { actor } = request.session;
    if (!actor) throw new Refusal('notSignedIn', 'Sign in to see documents.');
    const { name, content } = await paperOf(commands.look(actor), request.params.kind, Number(request.params.id));
    response.type('application/pdf').set('content-disposition', `inline; filename="${name}"`).send(content);
  });
}
