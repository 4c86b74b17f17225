import { index, integer, primaryKey, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core';
import type { AuditKind, DocumentKind, NoticeKind, Right } from '@terrace/contract';
import type { HabitName } from '@terrace/core';

export const user = sqliteTable('user', {
  id: integer().primaryKey(),
  login: text().notNull().unique(),
  name: text().notNull(),
  email: text().notNull().default(''),
  /** Empty until a person has chosen one. */
  passwordHash: text().notNull(),
  /** How figures and days are written for them; empty for the way of the company's country. */
  habits: text().$type<HabitName | ''>().notNull().default(''),
  /** Where they work most; none where it is all the same. */
  warehouseId: integer(),
  /** Of the badge that they show at a terminal. */
  badgeHash: text().unique(),
  pinHash: text().notNull().default(''),
  /** Wrong PINs since the last right one: after a few of them none is taken. */
  pinTries: integer().notNull().default(0),
  active: integer({ mode: 'boolean' }).notNull().default(true),
  version: integer().notNull().default(1),
});

/** Rights under a name. */
export const role = sqliteTable('role', {
  id: integer().primaryKey(),
  name: text().notNull().unique(),
  rights: text({ mode: 'json' }).$type<Right[]>().notNull(),
  /** What its people are told of. */
  notices: text({ mode: 'json' }).$type<NoticeKind[]>().notNull(),
  /** Has every right, those of later versions too. */
  everything: integer({ mode: 'boolean' }).notNull().default(false),
  version: integer().notNull().default(1),
});

/** Which roles somebody has, for all warehouses or for some. */
export const userRole = sqliteTable(
  'user_role',
  {
    userId: integer()
      .notNull()
      .references(() => user.id),
    roleId: integer()
      .notNull()
      .references(() => role.id),
    /** Warehouses by their numbers; none for all of them. */
    warehouses: text({ mode: 'json' }).$type<number[]>(),
  },
  (table) => [primaryKey({ columns: [table.userId, table.roleId] }), index('user_role_role').on(table.roleId)],
);

/** Tokens by which programs ask for somebody; the token itself is not among them. */
export const token = sqliteTable(
  'token',
  {
    id: integer().primaryKey(),
    userId: integer()
      .notNull()
      .references(() => user.id),
    name: text().notNull(),
    secretHash: text().notNull(),
    rights: text({ mode: 'json' }).$type<Right[]>(),
    /** Moment in milliseconds since 1970. */
    expires: integer().notNull(),
    lastUse: text(),
    revoked: integer({ mode: 'boolean' }).notNull().default(false),
  },
  (table) => [index('token_user').on(table.userId)],
);

/** Devices at which people work by badge and PIN, one after the other. */
export const terminal = sqliteTable('terminal', {
  id: integer().primaryKey(),
  name: text().notNull().unique(),
  warehouseId: integer(),
  /** Of the code by which it is paired, until it is; then of what the device keeps. */
  secretHash: text().notNull(),
  paired: integer({ mode: 'boolean' }).notNull().default(false),
  /** Moment in milliseconds since 1970 at which the code ends. */
  codeEnds: integer().notNull(),
  lastUse: text(),
  active: integer({ mode: 'boolean' }).notNull().default(true),
  version: integer().notNull().default(1),
});

/** Files that come in or go out by themselves. */
export const fileSchedule = sqliteTable('file_schedule', {
  id: integer().primaryKey(),
  name: text().notNull().unique(),
  direction: text().$type<'in' | 'out'>().notNull(),
  /** The kind of import, or the list. */
  kind: text().notNull(),
  folder: text().notNull(),
  /** Time of day as HH:MM at which a list is written; a folder is watched all day. */
  at: text().notNull(),
  active: integer({ mode: 'boolean' }).notNull().default(true),
  /** In whose name: what they may not do is not done. */
  userId: integer()
    .notNull()
    .references(() => user.id),
  lastRun: text(),
  lastWords: text().notNull().default(''),
  version: integer().notNull().default(1),
});

/** Links by which a person chooses a password, each once; what they are signed with is not among them. */
export const invitation = sqliteTable(
  'invitation',
  {
    id: integer().primaryKey(),
    userId: integer()
      .notNull()
      .references(() => user.id),
    /** Moment in milliseconds since 1970. */
    expires: integer().notNull(),
    usedAt: text(),
  },
  (table) => [index('invitation_user').on(table.userId)],
);

export const session = sqliteTable('session', {
  id: text().primaryKey(),
  data: text().notNull(),
  expires: integer().notNull(),
  userId: integer(),
});

export const setting = sqliteTable('setting', { key: text().primaryKey(), value: text().notNull() });

export const preference = sqliteTable(
  'preference',
  {
    userId: integer()
      .notNull()
      .references(() => user.id),
    key: text().notNull(),
    value: text({ mode: 'json' }).$type<unknown>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.userId, table.key] })],
);

/** Answers of commands that were carried out, so that a repeated request gets the same one. */
export const idempotency = sqliteTable(
  'idempotency',
  { userId: integer().notNull(), key: text().notNull(), fingerprint: text().notNull(), answer: text().notNull(), at: text().notNull() },
  (table) => [primaryKey({ columns: [table.userId, table.key] })],
);

/** Running numbers by what documents that run together have in common. */
export const sequence = sqliteTable('sequence', {
  prefix: text().primaryKey(),
  /** The kind of document that they are of. */
  kind: text().notNull().default(''),
  next: integer().notNull(),
  /** How many were given. */
  given: integer().notNull().default(0),
});

/** How a kind of document is numbered, where the company has it its own way. */
export const numbering = sqliteTable('numbering', {
  kind: text().primaryKey(),
  prefix: text().notNull(),
  width: integer().notNull(),
  byYear: integer({ mode: 'boolean' }).notNull(),
});

/** What changed of a record, in words. */
export interface Change {
  readonly field: string;
  readonly from: string;
  readonly to: string;
}

/** Append-only: who changed what, when, from what to what. */
export const history = sqliteTable(
  'history',
  {
    id: integer().primaryKey(),
    at: text().notNull(),
    userId: integer().notNull(),
    kind: text().$type<DocumentKind | 'plan' | 'setup'>().notNull(),
    recordId: integer().notNull(),
    what: text().notNull(),
    changes: text({ mode: 'json' }).$type<Change[]>().notNull(),
  },
  (table) => [index('history_record').on(table.kind, table.recordId)],
);

export const trailLink = sqliteTable(
  'trail_link',
  {
    fromKind: text().$type<DocumentKind>().notNull(),
    fromId: integer().notNull(),
    toKind: text().$type<DocumentKind>().notNull(),
    toId: integer().notNull(),
  },
  (table) => [primaryKey({ columns: [table.fromKind, table.fromId, table.toKind, table.toId] }), index('trail_to').on(table.toKind, table.toId)],
);

export const notice = sqliteTable(
  'notice',
  {
    id: integer().primaryKey(),
    userId: integer().notNull(),
    kind: text().$type<NoticeKind>().notNull().default('other'),
    at: text().notNull(),
    text: text().notNull(),
    linkKind: text().$type<DocumentKind>(),
    linkId: integer(),
    readAt: text(),
  },
  (table) => [index('notice_user').on(table.userId, table.readAt)],
);

/** Mail that the stand-in outbox took. The attachment is rendered after the command that sent it. */
export const mail = sqliteTable('mail', {
  id: integer().primaryKey(),
  at: text().notNull(),
  recipient: text().notNull(),
  subject: text().notNull(),
  body: text().notNull(),
  documentKind: text().$type<DocumentKind>().notNull(),
  documentId: integer().notNull(),
  documentNumber: text().notNull(),
  attachment: text(),
  /** Kept in the outbox alone, or to be sent by a mail server. */
  state: text().$type<'kept' | 'waiting' | 'sent' | 'failed'>().notNull().default('kept'),
  tries: integer().notNull().default(0),
  /** What the mail server said last; empty where it said nothing bad. */
  said: text().notNull().default(''),
  sentAt: text(),
});

export const file = sqliteTable(
  'file',
  {
    id: integer().primaryKey(),
    kind: text().$type<DocumentKind>().notNull(),
    recordId: integer().notNull(),
    name: text().notNull(),
    type: text().notNull(),
    size: integer().notNull(),
    checksum: text().notNull(),
    at: text().notNull(),
    userId: integer().notNull(),
  },
  (table) => [uniqueIndex('file_record').on(table.kind, table.recordId, table.name, table.checksum)],
);

/** Append-only: who came in and who did not, what was refused, set up and taken out. */
export const audit = sqliteTable(
  'audit',
  {
    id: integer().primaryKey(),
    at: text().notNull(),
    what: text().$type<AuditKind>().notNull(),
    userId: integer(),
    who: text().notNull(),
    address: text().notNull(),
    route: text().notNull(),
    outcome: text().notNull(),
    detail: text().notNull(),
    times: integer().notNull(),
  },
  (table) => [index('audit_user').on(table.userId, table.what)],
);
