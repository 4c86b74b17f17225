/** People, what they may do, and how they get in. */
import { z } from 'zod';
import { habitNames } from '@terrace/core';
import { noticeKind } from '../base/notices';
import { rights } from '../base/rights';
import { route } from '../base/route';
import { idParams, shortText, version } from '../base/schemas';

const right = z.enum(rights);

/** A role that somebody has, and where: in some warehouses, by their numbers, or everywhere. */
const heldRole = z.object({
  roleId: z.number().int().positive(),
  /** Where its rights hold, of those that can be given so. */
  warehouses: z.array(z.number().int().positive()).min(1, 'Choose a warehouse, or all of them.').max(200).nullable(),
});

const person = z.object({
  id: z.number().int(),
  /** What they sign in with. */
  login: z.string(),
  name: z.string(),
  email: z.string(),
  active: z.boolean(),
  /** Whether they have chosen a password. */
  joined: z.boolean(),
  /** How figures and days are written for them; empty for the way of the company’s country. */
  habits: z.enum(['', ...habitNames]),
  /** Where they work most. */
  warehouseId: z.number().int().nullable(),
  /** Whether they have a badge and a PIN for terminals, and whether too many wrong PINs were typed. */
  badge: z.boolean(),
  pinSpent: z.boolean(),
  roles: z.array(heldRole.extend({ name: z.string() })),
  /** Sessions that are open now. */
  sessions: z.number().int(),
  version,
});
export type Person = z.output<typeof person>;

const role = z.object({
  id: z.number().int(),
  name: z.string(),
  /** Has every right, those of later versions too; that can't be changed. */
  everything: z.boolean(),
  rights: z.array(right),
  /** What its people are told of. */
  notices: z.array(noticeKind),
  /** Active people who have it. */
  people: z.number().int(),
  version,
});
export type RoleView = z.output<typeof role>;

/** What each person gains and loses by a change. */
const effect = z.object({
  people: z.array(z.object({ name: z.string(), gained: z.array(right), lost: z.array(right) })),
});

const peopleView = z.object({ people: z.array(person), roles: z.array(role) });
export type PeopleView = z.output<typeof peopleView>;

/** A link that is shown once: who has it chooses a password. */
const link = z.object({
  /** The address below Terrace's own: `/join/…`. */
  path: z.string(),
  /** The moment it ends, in world time. */
  expires: z.string(),
});

const loginText = z.string().trim().min(2, 'Give a name of two characters at least.').max(80, 'A name has at most 80 characters.');
const emailText = z.union([z.literal(''), z.email('This is no mail address.').max(200)]);
const passwordText = z.string().max(200, 'A password has at most 200 characters.');
const personFields = {
  name: shortText.min(1, 'Give a name.'),
  login: loginText,
  email: emailText,
  habits: z.enum(['', ...habitNames]).default(''),
  warehouseId: z.number().int().positive().nullable().default(null),
  roles: z.array(heldRole).max(20),
};
const roleFields = {
  name: shortText.min(1, 'Give a name.').max(60),
  rights: z.array(right).max(rights.length),
  notices: z.array(noticeKind),
};
const linkParams = z.object({ link: z.string().regex(/^\d{1,9}-[\w-]{43}$/, 'This is no link of Terrace.') });

const token = z.object({
  id: z.number().int(),
  name: z.string(),
  /** What it may, of what its owner may; `null` for all of that. */
  rights: z.array(right).nullable(),
  /** The moment it ends, and when it was used last, in world time. */
  expires: z.string(),
  lastUse: z.string().nullable(),
});
const tokensView = z.object({ tokens: z.array(token) });
export type TokensView = z.output<typeof tokensView>;
const everyToken = z.object({ tokens: z.array(token.extend({ owner: z.string() })) });
export type EveryTokenView = z.output<typeof everyToken>;

/** Tokens by which programs ask for somebody: `Authorization: Bearer …`. */
const tokenRoutes = {
  tokens: route({ method: 'get', path: '/session/tokens', summary: 'One’s own tokens for programs', right: 'signedIn', answer: tokensView }),
  addToken: route({
    method: 'post',
    path: '/session/tokens',
    summary: 'Make a token for a program; it is shown once, in the answer',
    right: 'signedIn',
    body: z.object({
      name: shortText.min(1, 'Say what it is for.').max(80),
      rights: z.array(right).max(rights.length).nullable(),
      days: z.number().int().min(1, 'A day at least.').max(730, 'Two years at most.'),
    }),
    answer: tokensView.extend({ token: z.string() }),
  }),
  everyToken: route({ method: 'get', path: '/setup/tokens', summary: 'Everybody’s tokens for programs', right: 'setup.people', answer: everyToken }),
  dropTokenOf: route({
    method: 'delete',
    path: '/setup/tokens/:id',
    summary: 'Revoke a token of somebody’s at once',
    right: 'setup.people',
    params: idParams,
    answer: everyToken,
  }),
  dropToken: route({
    method: 'delete',
    path: '/session/tokens/:id',
    summary: 'Revoke a token at once',
    right: 'signedIn',
    params: idParams,
    answer: tokensView,
  }),
};

export const peopleRoutes = {
  ...tokenRoutes,
  people: route({ method: 'get', path: '/setup/people', summary: 'People and roles', right: 'setup.see', answer: peopleView }),
  addPerson: route({
    method: 'post',
    path: '/setup/people',
    summary: 'Add a person; the answer has a link by which they choose a password, shown once',
    right: 'setup.people',
    body: z.object(personFields),
    answer: z.object({ view: peopleView, id: z.number().int(), link }),
  }),
  changePerson: route({
    method: 'put',
    path: '/setup/people/:id',
    summary: 'Change a person; who is deactivated is signed out everywhere',
    right: 'setup.people',
    params: idParams,
    body: z.object({ ...personFields, active: z.boolean(), version }),
    answer: peopleView,
  }),
  linkForPerson: route({
    method: 'post',
    path: '/setup/people/:id/link',
    summary: 'Make a link by which a person chooses a password anew, shown once; links made before end',
    right: 'setup.people',
    params: idParams,
    answer: link,
  }),
  giveBadge: route({
    method: 'put',
    path: '/setup/people/:id/badge',
    summary: 'Give somebody a badge and a PIN for terminals; an empty badge takes both',
    right: 'setup.people',
    params: idParams,
    body: z.object({
      badge: z.string().trim().max(80, 'A badge has at most 80 characters.'),
      /** Four to eight figures; empty, the PIN of before stays. */
      pin: z.string().max(8, 'A PIN has eight figures at most.').default(''),
    }),
    answer: peopleView,
  }),
  endSessionsOf: route({
    method: 'post',
    path: '/setup/people/:id/sessions/end',
    summary: 'Sign a person out everywhere',
    right: 'setup.people',
    params: idParams,
    answer: peopleView,
  }),
  weighRole: route({
    method: 'post',
    path: '/setup/roles/weigh',
    summary: 'What a role with these rights would give and take, and whom; nothing is changed',
    right: 'setup.people',
    body: z.object({ id: z.number().int().positive(), rights: roleFields.rights }),
    answer: effect,
  }),
  saveRole: route({
    method: 'put',
    path: '/setup/roles',
    summary: 'Add or change a role; what its people may do changes at once',
    right: 'setup.people',
    body: z.object({ id: z.number().int().positive().optional(), ...roleFields, version: version.optional() }),
    answer: peopleView,
  }),
  dropRole: route({
    method: 'delete',
    path: '/setup/roles/:id',
    summary: 'Drop a role that nobody has',
    right: 'setup.people',
    params: idParams,
    answer: peopleView,
  }),
  whoseLink: route({
    method: 'get',
    path: '/session/links/:link',
    summary: 'For whom a link is',
    right: 'public',
    params: linkParams,
    answer: z.object({ name: z.string(), login: z.string() }),
  }),
  joinByLink: route({
    method: 'post',
    path: '/session/links/:link',
    summary: 'Choose a password by a link; it ends with that',
    right: 'public',
    mostBytes: 4096,
    params: linkParams,
    body: z.object({ password: passwordText }),
    answer: z.object({ login: z.string() }),
  }),
  changePassword: route({
    method: 'put',
    path: '/session/password',
    summary: 'Change one’s own password; one’s other sessions end',
    right: 'signedIn',
    mostBytes: 4096,
    body: z.object({ old: passwordText, password: passwordText }),
    answer: z.object({}),
  }),
  ownSessions: route({
    method: 'get',
    path: '/session/sessions',
    summary: 'Where one is signed in',
    right: 'signedIn',
    answer: z.array(
      z.object({
        /** Names it, but lets nobody in. */
        key: z.string(),
        /** Moment of the sign-in, in world time. */
        since: z.string(),
        /** Where it came from: an IP address. */
        from: z.string(),
        /** What the browser says of itself. */
        browser: z.string(),
        current: z.boolean(),
      }),
    ),
  }),
  endOwnSession: route({
    method: 'delete',
    path: '/session/sessions/:key',
    summary: 'End one of one’s own sessions, or with `others` all but this one',
    right: 'signedIn',
    params: z.object({ key: z.string().max(64) }),
    answer: z.object({ ended: z.number().int() }),
  }),
};
