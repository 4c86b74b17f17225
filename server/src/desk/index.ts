import { and, desc, eq, sql } from 'drizzle-orm';
import { api, type AnswerOf, type DocumentKind } from '@terrace/contract';
import { auditList } from '../platform/audit';
import { asNumber, asText, list, listPage } from '../platform/list';
import { query } from '../platform/query';
import { file, mail, user } from '../platform/schema';
import type { RouteBinder } from '../platform/http';
import { orNotFound } from '../platform/rows';
import { findAnything } from './find';
import { todayView } from './today';
import { bindNotices } from './notices';
import { sellingFigures } from './selling-figures';

export { readNotices } from './notices';
import { historyOf, trailOf } from './trail';

const outbox = list(() => ({
  columns: {
    id: asNumber(mail.id),
    at: asText(mail.at),
    to: asText(mail.recipient),
    subject: asText(mail.subject),
    body: asText(mail.body),
    attachment: asText(mail.attachment),
    document: asText(mail.documentNumber),
    state: asText(mail.state),
    said: asText(mail.said),
  },
  from: mail,
  find: [mail.recipient, mail.subject],
  order: [sql`${mail.id} desc`],
  tie: [mail.id],
}));

const mailById = query(
  ($: { id: number }) => (db) =>
    db
      .select({ id: mail.id, at: mail.at, to: mail.recipient, subject: mail.subject, body: mail.body, attachment: mail.attachment })
      .from(mail)
      .where(eq(mail.id, $.id)),
);
const filesOf = query(
  ($: { kind: DocumentKind; id: number }) => (db) =>
    db
      .select({ id: file.id, name: file.name, type: file.type, size: file.size, at: file.at, who: user.name })
      .from(file)
      .innerJoin(user, eq(user.id, file.userId))
      .where(and(eq(file.kind, $.kind), eq(file.recordId, $.id)))
      .orderBy(desc(file.id)),
);
/** What every room has in common: Today, finding, trail, history, notices, outbox. */
export function bindDesk(binder: RouteBinder): void {
  const { platform } = api;
  binder.read(platform.today, (work) => todayView(work));
  binder.read(platform.find, (work, { query: asked }) => findAnything(work, asked.text));
  binder.read(platform.trail, (work, { params }) => trailOf(work, params.kind, params.id));
  binder.read(platform.history, (work, { params }) => historyOf(work, params.kind, params.id));
  binder.read(platform.files, (work, { params }) => filesOf.all(work, params));
  bindNotices(binder);
  binder.read(api.selling.figures, (work, { query: asked }) => sellingFigures(work, asked));
  binder.list(platform.outbox, (work, { query: asked }) => listPage<AnswerOf<typeof platform.outbox>['rows'][number]>(work, outbox, asked));
  binder.read(platform.mail, (work, { params }) => orNotFound(mailById.one(work, { id: params.id }), 'mail'));
  binder.list(platform.audit, (work, { query: asked }) => auditList(work, asked));
}
