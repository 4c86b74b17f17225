/** What people are told: of which kinds, what they have read, and all of it on a page of its own. */
import { and, count, desc, eq, isNotNull, isNull, not, sql } from 'drizzle-orm';
import { api, noticeKinds, type AnswerOf, type NoticeKind } from '@terrace/contract';
import type { RouteBinder } from '../platform/http';
import { among, flag } from '../platform/expressions';
import { asFlag, asNumber, asOptionalNumber, asText, list, listPage } from '../platform/list';
import { command, query } from '../platform/query';
import { keepRow } from '../platform/rows';
import { notice, preference } from '../platform/schema';
import type { Work } from '../platform/work';

const { platform } = api;
const LATEST = 50;
/** Under this name the muted kinds are kept among a person's preferences. */
const MUTED = 'notices.muted';

const mutedOf = query(
  ($: { userId: number }) => (db) =>
    db
      .select({ value: preference.value })
      .from(preference)
      .where(and(eq(preference.userId, $.userId), eq(preference.key, MUTED))),
);
const latest = query(
  ($: { userId: number; muted: readonly string[] }) => (db) =>
    db
      .select()
      .from(notice)
      .where(and(eq(notice.userId, $.userId), not(among(notice.kind, $.muted))))
      .orderBy(desc(notice.id))
      .limit(LATEST),
);
const unread = query(
  ($: { userId: number; muted: readonly string[] }) => (db) =>
    db
      .select({ n: count() })
      .from(notice)
      .where(and(eq(notice.userId, $.userId), isNull(notice.readAt), not(among(notice.kind, $.muted)))),
);
const markAll = command(
  ($: { userId: number; now: string }) => (db) =>
    db
      .update(notice)
      .set({ readAt: $.now })
      .where(and(eq(notice.userId, $.userId), isNull(notice.readAt))),
);
const markSome = command(
  ($: { userId: number; now: string; ids: readonly number[] }) => (db) =>
    db
      .update(notice)
      .set({ readAt: $.now })
      .where(and(eq(notice.userId, $.userId), isNull(notice.readAt), among(notice.id, $.ids))),
);
const everything = list<{ userId: number }>(($) => ({
  columns: {
    id: asNumber(notice.id),
    kind: asText(notice.kind),
    day: asText(sql`substr(${notice.at}, 1, 10)`),
    at: asText(notice.at),
    text: asText(notice.text),
    linkKind: asText(notice.linkKind),
    linkId: asOptionalNumber(notice.linkId),
    read: asFlag(flag(isNotNull(notice.readAt))),
  },
  from: notice,
  where: eq(notice.userId, $.userId),
  find: [notice.text],
  order: [desc(notice.id)],
  tie: [notice.id],
}));

function mutedKinds(work: Work): NoticeKind[] {
  const kept = mutedOf.one(work, { userId: work.actor.id })?.value;
  return Array.isArray(kept) ? noticeKinds.filter((kind) => kept.includes(kind)) : [];
}

/** What is read or muted in one tab is so in the others. */
function tellOtherTabs(work: Work): void {
  work.events.push({ topic: 'notice', id: 0, userId: work.actor.id, who: work.actor.name, what: '', at: work.now });
}

/** Marks one's notices as read: those named, or all. */
export function readNotices(work: Work, ids: readonly number[] | 'all' = 'all'): void {
  const mine = { userId: work.actor.id, now: work.now };
  if (ids === 'all') markAll.run(work, mine);
  else markSome.run(work, { ...mine, ids });
  tellOtherTabs(work);
}

export function bindNotices(binder: RouteBinder): void {
  binder.read(platform.notices, (work) => {
    const mine = { userId: work.actor.id, muted: mutedKinds(work) };
    return {
      unread: unread.one(work, mine)?.n ?? 0,
      rows: latest.all(work, mine).map(({ id, kind, at, text, linkKind, linkId, readAt }) => ({
        id,
        kind,
        at,
        text,
        link: linkKind !== null && linkId !== null ? { kind: linkKind, id: linkId } : null,
        read: readAt !== null,
      })),
    };
  });
  binder.command(platform.readNotices, (work, { body }) => {
    readNotices(work, body.ids);
    return {};
  });
  binder.list(platform.allNotices, (work, { query: asked }) =>
    listPage<AnswerOf<typeof platform.allNotices>['rows'][number], { userId: number }>(work, everything, asked, { userId: work.actor.id }),
  );
  binder.read(platform.mutedNotices, (work) => ({ kinds: mutedKinds(work) }));
  binder.command(platform.muteNotices, (work, { body }) => {
    keepRow(work, preference, ['userId', 'key'], { userId: work.actor.id, key: MUTED, value: body.kinds });
    tellOtherTabs(work);
    return body;
  });
}
