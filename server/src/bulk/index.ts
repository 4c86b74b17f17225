/** Files in and out. */
import { api, type AnswerOf, type ImportKind } from '@terrace/contract';
import type { Binder } from '../platform/http';
import { desc, eq } from 'drizzle-orm';
import { orEmpty } from '../platform/expressions';
import { query } from '../platform/query';
import { user } from '../platform/schema';
import type { Work } from '../platform/work';
import type { Imports } from './imports';
import type { FileColumn } from './kind';
import { kinds } from './kinds';
import { importRun } from './schema';

export { Imports } from './imports';
export { bindReceiving } from './receiving';
export * from './schema';

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

/** What a file of a kind has in it: everything there is, the headings alone, or a few rows as an example. */
export type FileContent = 'all' | 'headings' | 'sample';

/** A file of a kind, in the columns in which it can be sent in again. */
export function kindRows(
  work: Work,
  kind: ImportKind,
  content: FileContent,
): { readonly columns: readonly FileColumn[]; readonly rows: readonly Readonly<Record<string, string>>[] } {
  return { columns: kinds[kind].columns(work), rows: content === 'all' ? kinds[kind].rows(work) : content === 'sample' ? kinds[kind].sample : [] };
}

/** Routes to try a file and to take it. */
export function bindBulk(binder: Binder, imports: Imports): void {
  const { bulk } = api;
  binder.read(bulk.listImports, (work) => past(work));
  binder.task(bulk.tryImport, (_commands, actor, { params, body }) =>
    imports.tryOut(actor, params.id, body.mapping, { decimals: body.decimals, dates: body.dates }),
  );
  binder.task(bulk.takeImport, (_commands, actor, { params, body }) => Promise.resolve(imports.take(actor, params.id, body.goodOnly)));
  binder.task(bulk.stopImport, (_commands, actor, { params }) => Promise.resolve(imports.stop(actor, params.id)));
  binder.read(bulk.importRows, (work, { params, query: asked }) => imports.rows(work, params.id, asked.outcome, asked.offset, asked.limit));
  binder.ask(bulk.getImport, (actor, { params }) => imports.load(actor, params.id));
}
