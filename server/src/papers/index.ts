/** Papers over HTTP: of each kind of document that has one, labels, and an order's chart. */
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import type { Request, Response, Router } from 'express';
import { z } from 'zod';
import { idParams, importKinds } from '@terrace/contract';
import { Refusal, habitOf, habits, writeByHabit, type Habit } from '@terrace/core';
import { statementPaper, ublInvoice } from '../accounts';
import { receiptFor } from '../counter';
import { papersOfRun } from '../desk/order-runs';
import { packingSlip } from '../dispatch';
import { orderChart, type LivePlanner } from '../planning';
import type { Audit } from '../platform/audit';
import type { Commands } from '../platform/commands';
import { paperOfKind } from '../platform/documents';
import { whileOpen } from '../platform/http';
import { outboxFolder } from '../platform/outbox';
import type { DocumentPaper, Paper } from '../platform/paper';
import { query } from '../platform/query';
import { mail as mailTable } from '../platform/schema';
import { letterheadOf } from '../platform/letterhead';
import { settingOf } from '../platform/settings';
import { actorOf, permitted } from '../platform/who';
import type { Work } from '../platform/work';
import type { Drawing } from './drawing';
import { labelsOf } from './labels';
import { orderChartPaper } from './order-chart';

export { Drawing } from './drawing';

export interface PaperParts {
  readonly router: Router;
  readonly commands: Commands;
  readonly drawing: Drawing;
  readonly planner: LivePlanner;
  readonly audit: Audit;
  readonly dataFolder: string;
}

const attachmentOf = query(
  ($: { id: number }) => (db) => db.select({ attachment: mailTable.attachment }).from(mailTable).where(eq(mailTable.id, $.id)),
);

/** Papers that are no document's own: what goes into the parcel of a shipment, and the statement of a customer. */
const OTHERS: Readonly<Record<string, DocumentPaper>> = { packingSlip, customer: statementPaper };

/** A document's paper as it would be drawn; a shipment has a second, that goes into the parcel. Refuses `notFound` and a missing right. */
export function paperOf(work: Work, kind: string, id: number): Paper {
  const source = OTHERS[kind] ?? paperOfKind(kind);
  if (!source) throw new Refusal('notFound', `There is no paper of a ${kind.slice(0, MOST_SAID)}.`);
  work.assertMay(source.right);
  return byHabit({ ...source.make(work, id), letterhead: letterheadOf(work.store) }, habits[habitOf(settingOf(work.store, 'country') ?? '')]);
}

/** Papers have figures as the company's country writes them. */
function byHabit(paper: Paper, habit: Habit): Paper {
  const right = new Set(paper.table.right);
  return {
    ...paper,
    table: {
      ...paper.table,
      rows: paper.table.rows.map((row) => row.map((cell, at) => (right.has(at) && typeof cell === 'string' ? writeByHabit(cell, habit) : cell))),
    },
    totals: paper.totals.map(([words, amount]) => [words, writeByHabit(amount, habit)]),
  };
}

const MOST_SAID = 40;
const idOf = (request: Request): number => idParams.parse(request.params).id;

/** Sends a PDF to be looked at. */
function show(response: Response, name: string, content: Buffer): void {
  response.type('application/pdf').set('content-disposition', `inline; filename="${name}.pdf"`).send(content);
}

const fileAsked = z.object({ type: z.enum(['csv', 'xlsx']).default('csv'), content: z.enum(['all', 'headings', 'sample']).default('all') });

/** `GET /papers/:kind/:id`, a PDF; `GET /outbox/:id/attachment`, the PDF that was sent; `GET /bulk/files/:kind`, everything of a kind. */
export function bindPapers({ router, commands, drawing, planner, audit, dataFolder }: PaperParts): void {
  router.get('/outbox/:id/attachment', async (request, response) => {
    const work = commands.look(actorOf(request));
    work.assertMay('setup.see');
    const mail = attachmentOf.one(work, { id: idOf(request) });
    if (!mail?.attachment) throw new Refusal('notFound', 'This mail has no attachment, or it is still being rendered.');
    response.type('application/pdf').send(await readFile(join(outboxFolder(dataFolder), mail.attachment)));
  });
  router.get('/papers/labels/:kind/:id', async (request, response) => {
    const work = commands.look(actorOf(request));
    work.assertMay('stores.see');
    const only = z
      .string()
      .regex(/^\d+(,\d+){0,499}$/)
      .optional()
      .parse(request.query['only']);
    const labels = labelsOf(work, request.params.kind, idOf(request), Number(request.query['copies'] ?? 1), only?.split(',').map(Number));
    show(response, 'labels', await drawing.labels(work, labels, whileOpen(response)));
  });
  router.get('/papers/orderChart/:id', async (request, response) => {
    const work = commands.look(actorOf(request));
    work.assertMay('planning.see');
    const chart = await orderChart(work, planner, idOf(request));
    show(response, `${chart.number}-chart`, await drawing.paper(work, orderChartPaper(letterheadOf(work.store), chart), whileOpen(response)));
  });
  router.get('/papers/ubl/:id', (request, response) => {
    const work = commands.look(actorOf(request));
    work.assertMay('accounts.see');
    const { number, xml } = ublInvoice(work, idOf(request));
    response.type('application/xml').set('content-disposition', `attachment; filename="${number}.xml"`).send(xml);
  });
  router.get('/papers/receipt/:id', async (request, response) => {
    const work = commands.look(actorOf(request));
    work.assertMay('selling.counter');
    const { number, receipt } = receiptFor(work, idOf(request));
    show(response, number, await drawing.receipt(work, receipt, whileOpen(response)));
  });
  router.get('/papers/run/:id', async (request, response) => {
    const work = commands.look(actorOf(request));
    work.assertMay('selling.see');
    const papers = papersOfRun(work, idOf(request)).map(({ kind, id }) => paperOf(work, kind, id));
    show(response, `papers-${idOf(request)}`, await drawing.several(work, papers, whileOpen(response)));
  });
  router.get('/papers/:kind/:id', async (request, response) => {
    const work = commands.look(actorOf(request));
    const paper = paperOf(work, request.params.kind, idOf(request));
    show(response, paper.number, await drawing.paper(work, paper, whileOpen(response)));
  });
  router.get('/bulk/files/:kind', permitted('catalogue.see'), async (request, response) => {
    const work = commands.look(actorOf(request));
    const { kind } = z.object({ kind: z.enum(importKinds) }).parse(request.params);
    const { type, content } = fileAsked.parse(request.query);
    const file = await drawing.kind(work, kind, type, content, whileOpen(response));
    if (content === 'all') audit.noteOf(request, 'fileTaken', { detail: `${file.rows} rows as ${type.toUpperCase()}` });
    response
      .type(file.type)
      .set('content-disposition', `attachment; filename="${kind}-${content === 'all' ? work.today : content}.${type}"`)
      .send(file.content);
  });
}
