/** Files in and out. */
import type { Router } from 'express';
import multer from 'multer';
import { z } from 'zod';
import { api, importKinds, type AnswerOf } from '@terrace/contract';
import { guardCell } from '@terrace/core';
import { actorOf, sentFile } from '../platform/files';
import type { Binder } from '../platform/http';
import { writeCells } from '../platform/sheet';
import { assertMay, type Work } from '../platform/work';
import type { Imports } from './imports';
import { kinds } from './kinds';

export { Imports } from './imports';

const MOST_BYTES = 60 * 1024 * 1024;

/** Files that came in, latest first. */
function past(work: Work): AnswerOf<typeof api.bulk.listImports> {
  return work.rows(
    `select m.id, m.number, m.kind, m.file_name as fileName, m.at, coalesce(u.name, '') as who, m.state, m.added, m.changed, m.same, m.refused
     from import_run m left join user u on u.id = m.user_id order by m.id desc limit 50`,
  );
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
  binder.read(bulk.importRows, (work, { params, query }) => imports.rows(work, params.id, query.outcome, query.offset, query.limit));
  binder.ask(bulk.getImport, (actor, { params }) => imports.load(actor, params.id));
}
