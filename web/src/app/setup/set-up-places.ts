/** What can be set up, where, and under which words somebody may look for it. */
import type { Right } from '@terrace/contract';

export interface Place {
  readonly path: string;
  readonly name: string;
  /** What else it may be looked for by. */
  readonly words: string;
  readonly right: Right;
}

export interface PlaceGroup {
  readonly name: string;
  readonly places: readonly Place[];
}

const see = 'setup.see' as const;

export const PLACES: readonly PlaceGroup[] = [
  { name: 'The company', places: [{ path: '/set-up', name: 'What is set up', words: 'guide start steps missing health check first', right: see }] },
  {
    name: 'People',
    places: [
      { path: '/set-up/people', name: 'People', words: 'user password link sign in deactivate session login mail', right: see },
      { path: '/set-up/terminals', name: 'Terminals', words: 'badge pin device pair scanner', right: see },
      { path: '/set-up/roles', name: 'Roles and rights', words: 'permission may notices told administrator', right: see },
    ],
  },
  {
    name: 'Places',
    places: [{ path: '/set-up/places', name: 'Warehouses and bins', words: 'dock walk size block close label range address', right: see }],
  },
  {
    name: 'Ways of the house',
    places: [
      { path: '/set-up/company', name: 'Company and letterhead', words: 'name address logo picture foot currency time zone paper', right: see },
      { path: '/set-up/numbering', name: 'Numbering', words: 'numbers documents prefix next year invoice', right: see },
      { path: '/set-up/accounts', name: 'Accounts and reasons', words: 'journal adjustment note uses', right: see },
      {
        path: '/set-up/rules',
        name: 'Tolerances and approval',
        words: 'over under delivery price difference purchase approve reservation reserve rule',
        right: see,
      },
      { path: '/set-up/credit', name: 'Credit limits', words: 'owe stop warn customer', right: see },
      {
        path: '/catalogue/ground',
        name: 'Groups, units and money',
        words: 'calendars tax terms currency exchange rate holidays shifts own fields customer groups payment early discount',
        right: 'catalogue.see',
      },
    ],
  },
  {
    name: 'Other programs',
    places: [
      { path: '/catalogue/files', name: 'Files in and out', words: 'import export csv xlsx sample', right: 'catalogue.see' },
      { path: '/set-up/schedules', name: 'Files by themselves', words: 'folder watch schedule night list automatic', right: see },
      { path: '/set-up/mail', name: 'Outgoing mail', words: 'smtp server send address', right: see },
      { path: '/set-up/outbox', name: 'Outbox', words: 'mail sent attachment', right: see },
      { path: '/set-up/programs', name: 'Programs', words: 'token bearer revoke key', right: 'setup.people' },
      { path: '/set-up/api', name: 'API: try a route', words: 'openapi json program', right: see },
    ],
  },
  {
    name: 'Keeping it safe',
    places: [
      { path: '/set-up/backups', name: 'Backups', words: 'restore copy disk schedule encrypted', right: see },
      { path: '/set-up/archive', name: 'Company as a file', words: 'archive export zip csv json move whole take along', right: see },
      { path: '/set-up/audit', name: 'Audit log', words: 'who signed in refused taken', right: 'setup.audit' },
    ],
  },
];

/** Places that somebody may see and that have all of the words, in their groups. */
export function foundIn(groups: readonly PlaceGroup[], words: string, rights: ReadonlySet<Right>): PlaceGroup[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  return groups.flatMap((group) => {
    const places = group.places.filter(({ name, words: also, right }) => {
      const all = `${group.name} ${name} ${also}`.toLowerCase();
      return rights.has(right) && wanted.every((word) => all.includes(word));
    });
    return places.length === 0 ? [] : [{ ...group, places }];
  });
}
