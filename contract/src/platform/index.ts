/** Signing in, finding, notices, trail, history and what else every room has. */
import { z } from 'zod';
import { habitNames } from '@terrace/core';
import { noticeKind, noticeKinds } from '../base/notices';
import { rights, type Right } from '../base/rights';
import { route } from '../base/route';
import { documentKind, documentLink, idParams, listQuery, page } from '../base/schemas';

export const session = z.object({
  /** Who it is; `role` names their roles, in words. */
  user: z.object({ id: z.number(), login: z.string(), name: z.string(), role: z.string() }),
  rights: z.array(z.enum(rights)),
  today: z.string(),
  company: z.string(),
  /** Code of the currency that the books are kept in: amounts that name none are in it. */
  currency: z.string(),
  /** How figures and days are written for them. */
  habits: z.enum(habitNames),
  /** Whether it is the demo company, with things to try. */
  demo: z.boolean(),
  /** Attempts with this name that failed since its owner signed in the time before; only in answer to signing in. */
  attempts: z.object({ count: z.number().int(), lastAt: z.string(), from: z.string() }).nullable(),
  warehouseId: z.number().nullable(),
  preferences: z.record(z.string(), z.unknown()),
});
export type Session = z.output<typeof session>;

export const notice = z.object({
  id: z.number(),
  kind: noticeKind,
  /** The moment, in world time. */
  at: z.string(),
  text: z.string(),
  link: z.object({ kind: documentKind, id: z.number() }).nullable(),
  read: z.boolean(),
});
export type Notice = z.output<typeof notice>;
export const found = z.object({ kind: documentKind, id: z.number(), title: z.string(), detail: z.string(), state: z.string().nullable() });
export type Found = z.output<typeof found>;

export const trail = z.object({
  nodes: z.array(documentLink.extend({ date: z.string().nullable(), detail: z.string() })),
  links: z.array(z.object({ from: z.string(), to: z.string() })),
});
export type Trail = z.output<typeof trail>;

/** What the audit log tells of. */
export const auditKinds = [
  'signedIn',
  'signInFailed',
  'signInSlowed',
  'signedOut',
  'rightRefused',
  'crossSite',
  'setupChanged',
  'fileTaken',
  'fileSent',
] as const;
export const auditKind = z.enum(auditKinds);
export type AuditKind = z.output<typeof auditKind>;

const auditRow = z.object({
  id: z.number().int(),
  /** The moment of the first, in world time. */
  at: z.string(),
  what: auditKind,
  /** Who it was, as far as that is known; of a failed attempt, whose name was given. */
  who: z.string(),
  /** Where it came from: an IP address. */
  address: z.string(),
  /** What was asked for: method and address, without what was sent. */
  route: z.string(),
  /** What came of it: "done", or the code of the refusal. */
  outcome: z.string(),
  detail: z.string(),
  /** How often it happened within the same second or so. */
  times: z.number().int(),
});

/** What the live stream tells of that is no document. */
const otherTopics = ['stock', 'journal', 'forecast', 'plan', 'setup', 'mail', 'notice', 'orderRun', 'condition'] as const;
/** What the live stream tells of: documents and records, and what is no document. */
export const liveTopic = z.union([documentKind, z.enum(otherTopics)]);
export type LiveTopic = z.output<typeof liveTopic>;
export const liveEvent = z.object({ topic: liveTopic, id: z.number(), userId: z.number(), who: z.string(), what: z.string(), at: z.string() });
export type LiveEvent = z.output<typeof liveEvent>;

/** The right that hearing of a topic takes; where none is named, whoever is signed in hears of it. */
const HEARD_BY: Readonly<Record<LiveTopic, Right | 'signedIn'>> = {
  customerOrder: 'selling.see',
  purchaseOrder: 'buying.see',
  productionOrder: 'production.see',
  completion: 'production.see',
  receipt: 'stores.see',
  shipment: 'dispatch.see',
  customerReturn: 'selling.see',
  incomingOrder: 'selling.see',
  counterSale: 'selling.counter',
  drawer: 'selling.counter',
  invoice: 'accounts.see',
  payment: 'accounts.see',
  journal: 'accounts.see',
  revaluation: 'accounts.see',
  reclassification: 'accounts.see',
  lateCost: 'stores.see',
  adjustment: 'stores.see',
  transfer: 'stores.see',
  relocation: 'stores.see',
  lot: 'stores.see',
  serialNumber: 'stores.see',
  stock: 'stores.see',
  item: 'catalogue.see',
  customer: 'catalogue.see',
  supplier: 'catalogue.see',
  forecast: 'planning.see',
  plan: 'planning.see',
  setup: 'signedIn',
  mail: 'setup.see',
  notice: 'signedIn',
  orderRun: 'selling.see',
  condition: 'signedIn',
};

/** Who hears of a topic. */
export function heardBy(topic: LiveTopic): Right | 'signedIn' {
  return HEARD_BY[topic];
}

export const figure = z.object({
  key: z.string(),
  label: z.string(),
  /** An amount in the company's currency, of the period … */
  value: z.string(),
  period: z.string(),
  /** … and what it is compared with: the amount of the period before it. */
  before: z.string(),
  beforePeriod: z.string(),
  link: z.string(),
  /** One amount a week, the oldest first; the last is `value`. */
  trend: z.array(z.number()),
});
export const waiting = z.object({
  key: z.string(),
  label: z.string(),
  count: z.number(),
  urgent: z.number(),
  detail: z.string(),
  link: z.string(),
  first: z.array(z.object({ text: z.string(), detail: z.string(), date: z.string(), link: z.string() })),
});
export const todayView = z.object({ today: z.string(), waiting: z.array(waiting), figures: z.array(figure) });
export type TodayView = z.output<typeof todayView>;

const recordParams = z.object({ kind: documentKind, id: z.coerce.number().int().positive() });

export const platformRoutes = {
  welcome: route({
    method: 'get',
    path: '/session/welcome',
    summary: 'What the sign-in page shows',
    right: 'public',
    answer: z.object({
      company: z.string(),
      /** Whether there is a company; where not, one is founded. */
      founded: z.boolean(),
      demo: z.array(z.object({ login: z.string(), name: z.string(), role: z.string() })),
      demoPassword: z.string().nullable(),
    }),
  }),
  signIn: route({
    method: 'post',
    path: '/session',
    summary: 'Sign in',
    right: 'public',
    mostBytes: 4096,
    body: z.object({
      login: z.string().max(80, 'A name has at most 80 characters.'),
      password: z.string().max(200, 'A password has at most 200 characters.'),
    }),
    answer: session,
  }),
  terminal: route({
    method: 'get',
    path: '/session/terminal',
    summary: 'Which terminal this device is; none where people sign in by name here',
    right: 'public',
    answer: z.object({ name: z.string().nullable() }),
  }),
  pairTerminal: route({
    method: 'post',
    path: '/session/terminal',
    summary: 'Make this device a terminal, by the code that Set-up shows',
    right: 'public',
    mostBytes: 1024,
    body: z.object({ code: z.string().max(40, 'The code has eight signs.') }),
    answer: z.object({ name: z.string() }),
  }),
  signInByBadge: route({
    method: 'post',
    path: '/session/badge',
    summary: 'Sign in at a terminal by badge and PIN',
    right: 'public',
    mostBytes: 1024,
    body: z.object({ badge: z.string().min(1, 'Show your badge.').max(80), pin: z.string().min(1, 'Type your PIN.').max(8) }),
    answer: session,
  }),
  getSession: route({ method: 'get', path: '/session', summary: 'Who is signed in', right: 'signedIn', answer: session }),
  signOut: route({ method: 'delete', path: '/session', summary: 'Sign out', right: 'signedIn', answer: z.object({}) }),
  setPreference: route({
    method: 'put',
    path: '/session/preferences/:key',
    summary: 'Keep a preference',
    right: 'signedIn',
    params: z.object({ key: z.string().max(80) }),
    body: z.object({ value: z.json().describe('What is preferred; null forgets it') }),
    answer: z.object({}),
  }),
  today: route({ method: 'get', path: '/today', summary: 'What waits, and a few figures', right: 'signedIn', answer: todayView }),
  find: route({
    method: 'get',
    path: '/find',
    summary: 'Anything by number, code, barcode, name or words',
    right: 'signedIn',
    query: z.object({ text: z.string().max(200) }),
    answer: z.array(found),
  }),
  trail: route({
    method: 'get',
    path: '/records/:kind/:id/trail',
    summary: 'Documents that led to or came from this one',
    right: 'signedIn',
    params: recordParams,
    answer: trail,
  }),
  history: route({
    method: 'get',
    path: '/records/:kind/:id/history',
    summary: 'Who changed what',
    right: 'signedIn',
    params: recordParams,
    answer: z.array(
      z.object({
        at: z.string(),
        who: z.string(),
        what: z.string(),
        changes: z.array(z.object({ field: z.string(), from: z.string(), to: z.string() })),
      }),
    ),
  }),
  files: route({
    method: 'get',
    path: '/records/:kind/:id/files',
    summary: 'Files attached to a record',
    right: 'signedIn',
    params: recordParams,
    answer: z.array(z.object({ id: z.number(), name: z.string(), type: z.string(), size: z.number(), at: z.string(), who: z.string() })),
  }),
  notices: route({
    method: 'get',
    path: '/notices',
    summary: 'My latest notices, newest first, without the kinds that I muted',
    right: 'signedIn',
    answer: z.object({
      /** How many I have not read, those that are not among the latest included. */
      unread: z.number(),
      rows: z.array(notice),
    }),
  }),
  readNotices: route({
    method: 'post',
    path: '/notices/read',
    summary: 'Mark notices as read: those named, or all',
    right: 'signedIn',
    body: z.object({ ids: z.union([z.literal('all'), z.array(z.number().int().positive()).max(1000)]) }),
    answer: z.object({}),
  }),
  allNotices: route({
    method: 'get',
    path: '/notices/all',
    summary: 'All my notices, those of muted kinds too',
    right: 'signedIn',
    query: listQuery,
    answer: page(
      z.object({
        id: z.number(),
        kind: noticeKind,
        /** The day, and the moment in world time. */
        day: z.string(),
        at: z.string(),
        text: z.string(),
        linkKind: documentKind.nullable(),
        linkId: z.number().nullable(),
        read: z.boolean(),
      }),
    ),
  }),
  muteNotices: route({
    method: 'put',
    path: '/notices/muted',
    summary: 'Say of which kinds I am not told',
    right: 'signedIn',
    body: z.object({ kinds: z.array(noticeKind).max(noticeKinds.length) }),
    answer: z.object({ kinds: z.array(noticeKind) }),
  }),
  mutedNotices: route({
    method: 'get',
    path: '/notices/muted',
    summary: 'Of which kinds I am not told',
    right: 'signedIn',
    answer: z.object({ kinds: z.array(noticeKind) }),
  }),
  outbox: route({
    method: 'get',
    path: '/outbox',
    summary: 'Mail that the stand-in outbox took',
    right: 'setup.see',
    query: listQuery,
    answer: page(
      z.object({
        id: z.number(),
        at: z.string(),
        to: z.string(),
        subject: z.string(),
        body: z.string(),
        attachment: z.string().nullable(),
        document: z.string(),
        /** Kept here alone, waiting for the mail server, taken by it, or not. */
        state: z.enum(['kept', 'waiting', 'sent', 'failed']),
        /** What the mail server said last, where that was nothing good. */
        said: z.string(),
      }),
    ),
  }),
  audit: route({
    method: 'get',
    path: '/audit',
    summary: 'Who signed in, who was refused, what left and what was set up',
    right: 'setup.audit',
    query: listQuery,
    answer: page(auditRow),
  }),
  mail: route({
    method: 'get',
    path: '/outbox/:id',
    summary: 'One mail',
    right: 'setup.see',
    params: idParams,
    answer: z.object({ id: z.number(), at: z.string(), to: z.string(), subject: z.string(), body: z.string(), attachment: z.string().nullable() }),
  }),
};
