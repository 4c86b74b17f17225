/** Files in and out. */
import type { Router } from 'express';
import multer from 'multer';
import { z } from 'zod';
import { api, importKinds, type AnswerOf } from '@terrace/contract';
import { guardCell } from '@terrace/core';
import { actorOf, sentFile } from '../platform/files';
import type { Binder } from '../platform/http';
import { desc, eq } from 'drizzle-orm';
import { orEmpty } from '../platform/expressions';
import { query } from '../platform/query';
import { user } from '../platform/schema';
import { writeCells } from '../platform/sheet';
import { assertMay, type Work } from '../platform/work';
import type { Imports } from './imports';
import { kinds } from './kinds';
import { importRun } from './schema';

export { Imports } from './imports';
export * from './schema';

const MOST_BYTES = 60 * 1024 * 1024;

const MOST_SHOWN = 50;
const latest = query(
  () => (db) =>
    db
      .select({
        id: importRun.id,
        number: importRun.number,
        kind: importRun.kind,
        fileName: importRun.fileName,
        at: importRun.at,
        who: orEmpty(user.name),
        state: importRun.state,
        added: importRun.added,
        changed: importRun.changed,
        same: importRun.same,
        refused: importRun.refused,
      })
      .from(importRun)
      .leftJoin(user, eq(user.id, importRun.userId))
      .orderBy(desc(importRun.id))
      .limit(MOST_SHOWN),
);

/** Files that came in, latest first. */
function past(work: Work): AnswerOf<typeof api.bulk.listImports> {
  return latest.all(work);
}

/** Routes to send a file in, to try and to take it, and to get everything of a kind as a file. */
export function bindBulk(binder: Binder, router: Router, imports: Imports): void {
  const { bulk } = api;
  const upload = multer({ storage: multer.memoryStorage(), limits: { fileSize: MOST_BYTES, files: 1 } });
  const kindOf = z.object({ kind: z.enum(importKinds) });
  router.post('/bulk/files/:kind', upload.single('file'), async (request, response) => {
    const actor = actorOf(request.session);
    assertMay(actor, 'bulk.import');
    const { kind } = kindOf.parse(request.params);
    const { name, content } = sentFile(request);
    response.json(await imports.receive(actor, kind, name, content));
  });
  router.get('/bulk/files/:kind', async (request, response) => {
    const actor = actorOf(request.session);
    assertMay(actor, 'catalogue.see');
    const { kind } = kindOf.parse(request.params);
    const { type, empty } = z.object({ type: z.enum(['csv', 'xlsx']).default('csv'), empty: z.enum(['yes']).optional() }).parse(request.query);
    const work = binder.commands.look(actor);
    const columns = kinds[kind].columns(work);
    const rows = empty === 'yes' ? [] : kinds[kind].rows(work);
    const cells = rows.map((row) => columns.map(({ key, type: of }) => (of === 'text' ? guardCell(row[key] ?? '') : (row[key] ?? ''))));
    const sheet = await writeCells(
      type,
      columns.map((each) => each.title),
      cells,
      columns.map((each) => each.type === 'number' || each.type === 'whole'),
    );
    response.type(sheet.type).set('content-disposition', `attachment; filename="${kind}-${work.today}.${type}"`).send(sheet.content);
  });
  binder.read(bulk.listImports, (work) => past(work));
  binder.task(bulk.tryImport, (_commands, actor, { params, body }) =>
    imports.tryOut(actor, params.id, body.mapping, { decimals: body.decimals, dates: body.dates }),
  );
  binder.task(bulk.takeImport, (_commands, actor, { params, body }) => Promise.resolve(imports.take(actor, params.id, body.goodOnly)));
  binder.task(bulk.stopImport, (_commands, actor, { params }) => Promise.resolve(imports.stop(actor, params.id)));
  binder.read(bulk.importRows, (work, { params, query: asked }) => imports.rows(work, params.id, asked.outcome, asked.offset, asked.limit));
  binder.ask(bulk.getImport, (actor, { params }) => imports.load(actor, params.id));
}
