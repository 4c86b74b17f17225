import { api, type AnswerOf } from '@terrace/contract';
import { asNumber, asText, listPage, type ListDefinition } from '../platform/list';
import type { Binder } from '../platform/http';
import { orNotFound } from '../platform/work';
import { findAnything } from './find';
import { todayView } from './today';
import { historyOf, trailOf } from './trail';

const outbox: ListDefinition = {
  columns: {
    id: asNumber('m.id'),
    at: asText('m.at'),
    to: asText('m.recipient'),
    subject: asText('m.subject'),
    body: asText('m.body'),
    attachment: asText('m.attachment'),
    document: asText('m.document_number'),
  },
  from: 'mail m',
  find: ['m.recipient', 'm.subject'],
  order: 'm.id desc',
  tie: 'm.id',
};

/** What every room has in common: Today, finding, trail, history, notices, outbox. */
export function bindDesk(binder: Binder): void {
  const { platform } = api;
  binder.read(platform.today, (work) => todayView(work));
  binder.read(platform.find, (work, { query }) => findAnything(work, query.text));
  binder.read(platform.trail, (work, { params }) => trailOf(work, params.kind, params.id));
  binder.read(platform.history, (work, { params }) => historyOf(work, params.kind, params.id));
  binder.read(platform.files, (work, { params }) =>
    work.rows(
      'select f.id, f.name, f.type, f.size, f.at, u.name as who from file f join user u on u.id = f.user_id where f.kind = ? and f.record_id = ? order by f.id desc',
      params.kind,
      params.id,
    ),
  );
  binder.read(platform.notices, (work) =>
    work
      .rows<{ id: number; at: string; text: string; linkKind: 'item' | null; linkId: number | null; readAt: string | null }>(
        'select id, at, text, link_kind as linkKind, link_id as linkId, read_at as readAt from notice where user_id = ? order by id desc limit 50',
        work.actor.id,
      )
      .map((row) => ({
        id: row.id,
        at: row.at,
        text: row.text,
        link: row.linkKind !== null && row.linkId !== null ? { kind: row.linkKind, id: row.linkId } : null,
        read: row.readAt !== null,
      })),
  );
  binder.command(platform.readNotices, (work) => {
    work.run('update notice set read_at = ? where user_id = ? and read_at is null', work.now, work.actor.id);
    return {};
  });
  binder.list(platform.outbox, (work, { query }) => listPage<AnswerOf<typeof platform.outbox>['rows'][number]>(work, outbox, query));
  binder.read(platform.mail, (work, { params }) =>
    orNotFound(work.row('select id, at, recipient as "to", subject, body, attachment from mail where id = ?', params.id), 'mail'),
  );
  binder.read(platform.users, (work) =>
    work
      .rows<{ id: number; login: string; name: string; role: string; active: number }>('select id, login, name, role, active from user order by id')
      .map((row) => ({ ...row, active: row.active === 1 })),
  );
}
