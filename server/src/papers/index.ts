/** Papers over HTTP: of each kind of document that has one, labels, and an order's chart. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Response, Router } from 'express';
import { Refusal } from '@terrace/core';
import { orderChart, type LivePlanner } from '../planning';
import { labelsOf } from './labels';
import { orderChartPaper } from './order-chart';
import { query } from '../platform/query';
import { mail as mailTable } from '../platform/schema';
import { settingOf } from '../platform/settings';
import { eq } from 'drizzle-orm';
import type { Commands } from '../platform/commands';
import type { Work } from '../platform/work';
import { paperOfKind } from '../platform/documents';
import { renderPaper } from '../platform/paper';
import { renderLabels } from './label-sheet';

const attachmentOf = query(
  ($: { id: number }) => (db) => db.select({ attachment: mailTable.attachment }).from(mailTable).where(eq(mailTable.id, $.id)),
);

const companyOf = (work: Work): string => settingOf(work.store, 'company') ?? 'Terrace';

/** Where the stand-in outbox keeps what it attached. */
export function outboxFolder(dataFolder: string): string {
  return join(dataFolder, 'outbox');
}

/** Renders a document's paper. Refuses `noPaper` and a missing right. */
export async function paperOf(work: Work, kind: string, id: number): Promise<{ name: string; content: Buffer }> {
  const source = paperOfKind(kind);
  if (!source) throw new Refusal('notFound', `There is no paper of a ${kind}.`);
  work.assertMay(source.right);
  const paper = source.make(work, id);
  return { name: `${paper.number}.pdf`, content: await renderPaper({ ...paper, company: companyOf(work) }) };
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
