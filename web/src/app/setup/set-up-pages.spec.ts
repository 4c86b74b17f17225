/** Pages of the set-up as their classes: what they ask, what they show, and what comes of pressing. */
import '@angular/compiler';
import { TestBed } from '@angular/core/testing';
import type { Signal, Type, WritableSignal } from '@angular/core';
import { from, of } from 'rxjs';
import { beforeEach, describe, expect, it } from 'vitest';
import { api, type HouseRulesView, type MailView, type PeopleView, type Right, type SchedulesView, type TerminalsView } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { FakeClient } from '../testing/fake-client';
import { screenWith } from '../testing/panel';
import { ArchivePage } from './archive.page';
import { MailPage } from './mail.page';
import { PeoplePage } from './people.page';
import { ProgramsPage } from './programs.page';
import { RulesPage } from './rules.page';
import { SchedulesPage } from './schedules.page';
import { TerminalsPage } from './terminals.page';

const ALL: readonly Right[] = ['setup.see', 'setup.edit', 'setup.people'];
let client: FakeClient;
beforeEach(() => {
  client = new FakeClient();
});

/** A page with the parts that a test looks at, which its template alone sees otherwise. */
function pageOf<I>(page: Type<unknown>, rights: readonly Right[] = ALL): I {
  return screenWith(page, client, rights).screen as I;
}
const lastBody = (): unknown => client.asked.at(-1)?.call.body;

describe('the rules of the house', () => {
  const rules: HouseRulesView = {
    overDelivery: 500,
    underDelivery: 0,
    priceDifference: 200,
    approvedUpTo: null,
    ownApproval: true,
    reserve: 'all',
    reserveDays: 14,
    divideBy: [],
    quotesFrom: null,
    quotesWeighted: false,
    remindAfter: [7, 14, 14],
    version: 3,
  };
  interface Inside {
    readonly draft: WritableSignal<{ overDelivery: string; approvedUpTo: string; reserve: string }>;
    readonly undo: { words(): string; can(): boolean; undo(): void };
    readonly reserveWords: Signal<string>;
    choose(reserve: string): void;
    save(): void;
  }

  it('are typed as percent and amounts, saved against what was seen, and taken back', () => {
    client.answer(api.setup.houseRules, () => rules);
    client.answer(api.setup.saveHouseRules, ({ body }) => ({ ...(body as object), version: 4 }));
    const page = pageOf<Inside>(RulesPage);
    expect(page.draft()).toMatchObject({ overDelivery: '5', approvedUpTo: '' });
    page.draft.update((draft) => ({ ...draft, overDelivery: '7.5', approvedUpTo: '250' }));
    page.choose('nothing');
    expect(page.reserveWords()).toMatch(/presses Reserve/);
    page.save();
    expect(lastBody()).toMatchObject({ overDelivery: 750, approvedUpTo: 25_000, reserve: 'nothing', version: 3 });
    expect([page.undo.words(), page.undo.can()]).toEqual(['Kept.', true]);
    page.undo.undo();
    expect(lastBody()).toMatchObject({ overDelivery: 500, approvedUpTo: null, reserve: 'all', version: 4 });
    expect(page.undo.words()).toBe('As it was before.');
  });

  it('can’t be turned by who may only look', () => {
    client.answer(api.setup.houseRules, () => rules);
    const page = pageOf<Inside>(RulesPage, ['setup.see']);
    page.choose('nothing');
    expect(page.draft().reserve).toBe('all');
  });
});

describe('outgoing mail', () => {
  const mail: MailView = {
    by: 'smtp',
    host: 'mail.larkmoor.example',
    port: 587,
    security: 'starttls',
    user: 'larkmoor',
    from: 'orders@larkmoor.example',
    name: 'Larkmoor',
    hasPassword: true,
    version: 2,
    waiting: 0,
    failed: 0,
  };
  interface Inside {
    readonly draft: WritableSignal<{ password: string; host: string }>;
    readonly said: Signal<string>;
    readonly trial: { problem: Signal<Problem | null> };
    save(): void;
    try(): void;
  }

  it('sends no password that nobody typed, and one that somebody did', () => {
    client.answer(api.setup.mailSettings, () => mail);
    client.answer(api.setup.saveMailSettings, () => mail);
    const page = pageOf<Inside>(MailPage);
    page.draft.update((draft) => ({ ...draft, host: 'post.larkmoor.example' }));
    page.save();
    expect(lastBody()).toMatchObject({ host: 'post.larkmoor.example', port: 587, version: 2 });
    expect(lastBody()).not.toHaveProperty('password');
    page.draft.update((draft) => ({ ...draft, password: 'queen bee' }));
    page.save();
    expect(lastBody()).toMatchObject({ password: 'queen bee' });
    // It is in nobody's form after that.
    expect(page.draft().password).toBe('');
  });

  it('says what the mail server answered, or why it did not take it', () => {
    client.answer(api.setup.mailSettings, () => mail);
    client.answer(api.setup.tryMail, () => ({ said: '250 taken' }));
    const page = pageOf<Inside>(MailPage);
    page.try();
    expect(page.said()).toBe('250 taken');
    client.refuse(api.setup.tryMail, new Problem('notSent', 'Connection refused', {}, {}));
    page.try();
    expect([page.said(), page.trial.problem()?.message]).toEqual(['', 'Connection refused']);
  });
});

describe('terminals', () => {
  const terminal = { id: 1, name: 'Gate', warehouseId: null, paired: false, lastUse: null };
  interface Inside {
    readonly code: Signal<{ name: string; code: string } | null>;
    readonly draft: WritableSignal<{ name: string; warehouse: string }>;
    readonly desk: { view: Signal<TerminalsView | null> };
    add(): void;
    newCode(each: typeof terminal): void;
    drop(id: number): void;
  }

  it('show a code once, for the terminal that it is for, and none after it is taken away', () => {
    client.answer(api.setup.terminals, () => ({ terminals: [] }));
    client.answer(api.setup.addTerminal, () => ({ terminals: [terminal], code: 'AB12-CD34' }));
    client.answer(api.setup.codeForTerminal, () => ({ terminals: [terminal], code: 'EF56-GH78' }));
    client.answer(api.setup.dropTerminal, () => ({ terminals: [] }));
    const page = pageOf<Inside>(TerminalsPage);
    page.draft.set({ name: 'Gate', warehouse: '2' });
    page.add();
    expect(lastBody()).toEqual({ name: 'Gate', warehouseId: 2 });
    expect(page.code()).toEqual({ name: 'Gate', code: 'AB12-CD34' });
    expect(page.desk.view()).toEqual({ terminals: [terminal] });
    expect(page.draft()).toEqual({ name: '', warehouse: '' });
    page.newCode(terminal);
    expect(page.code()?.code).toBe('EF56-GH78');
    page.drop(1);
    expect([page.code(), page.desk.view()?.terminals]).toEqual([null, []]);
  });
});

describe('files by themselves', () => {
  const schedule: SchedulesView['schedules'][number] = {
    id: 4,
    name: 'Shop customers',
    direction: 'in',
    kind: 'customers',
    folder: 'shop/in',
    at: '02:00',
    active: true,
    who: 'Wilder',
    lastRun: null,
    lastWords: '',
    version: 6,
  };
  interface Inside {
    readonly draft: WritableSignal<{ id: number; name: string; kind: string; direction: string; folder: string }>;
    readonly kinds: Signal<readonly string[]>;
    turn(direction: 'in' | 'out'): void;
    choose(each: typeof schedule): void;
    save(): void;
    run(id: number): void;
  }
  beforeEach(() => {
    const view = { schedules: [schedule], place: '/data/exchange' };
    for (const route of [api.setup.schedules, api.setup.saveSchedule, api.setup.runSchedule]) client.answer(route, () => view);
  });

  it('offer what can come in, and what can go out as well', () => {
    const page = pageOf<Inside>(SchedulesPage);
    expect(page.kinds()).not.toContain('stock');
    page.turn('out');
    expect(page.kinds()).toEqual(expect.arrayContaining(['stock', 'customers']));
    expect(page.draft().kind).toBe('stock');
  });

  it('are added without a version, and changed against the one that was seen', () => {
    const page = pageOf<Inside>(SchedulesPage);
    page.draft.update((draft) => ({ ...draft, name: 'New', folder: 'new' }));
    page.save();
    expect(lastBody()).toMatchObject({ name: 'New', folder: 'new', kind: 'customers' });
    expect(lastBody()).not.toHaveProperty('version');
    page.choose(schedule);
    page.save();
    expect(lastBody()).toMatchObject({ id: 4, version: 6 });
    expect(page.draft()).toMatchObject({ id: 0, name: '' });
    page.run(4);
    expect(client.asked.at(-1)).toMatchObject({ path: '/setup/schedules/:id/run', call: { params: { id: 4 } } });
  });
});

describe('programs', () => {
  interface Inside {
    readonly desk: { view: Signal<{ tokens: readonly object[] } | null>; problem: Signal<Problem | null> };
    words(token: { rights: readonly Right[] | null }): string;
    revoke(id: number): void;
  }

  it('say what each may, and are gone once they are revoked; a refusal is said', () => {
    client.answer(api.setup.everyToken, () => ({
      tokens: [{ id: 3, name: 'Shop', person: 'Maren', rights: ['stores.see'], created: '2027-02-01', lastUse: null }],
    }));
    client.answer(api.setup.dropTokenOf, () => ({ tokens: [] }));
    const page = pageOf<Inside>(ProgramsPage);
    expect([null, ['stores.see'], ['stores.see', 'selling.edit']].map((rights) => page.words({ rights: rights as Right[] | null }))).toEqual([
      'all that they may',
      'look only',
      '2 rights',
    ]);
    page.revoke(3);
    expect(page.desk.view()?.tokens).toEqual([]);
    client.refuse(api.setup.dropTokenOf, new Problem('notFound', 'It is gone.', {}, {}));
    page.revoke(3);
    expect(page.desk.problem()?.message).toBe('It is gone.');
  });
});

describe('the company as a file', () => {
  interface Inside {
    readonly view: Signal<{ archives: readonly object[] } | null>;
    readonly writing: Signal<boolean>;
    write(): void;
  }

  it('is asked for by nobody who may not have it', () => {
    pageOf<Inside>(ArchivePage, ['setup.see']);
    expect(client.asked.map(({ path }) => path)).not.toContain('/setup/archives');
  });

  it('is written once, however often the button is pressed', () => {
    client.answer(api.setup.archives, () => ({ archives: [], kept: 3 }));
    client.answer(api.setup.writeArchive, () => of({ archives: [{ name: 'terrace-20270301-090000.zip', bytes: 5 }], kept: 3 }));
    const page = pageOf<Inside>(ArchivePage);
    page.write();
    expect([page.writing(), page.view()?.archives.length]).toEqual([false, 1]);
  });
});

describe('people', () => {
  const person: PeopleView['people'][number] = {
    id: 4,
    login: 'quill',
    name: 'Quill Hathersedge',
    email: '',
    active: true,
    joined: true,
    habits: '',
    warehouseId: null,
    badge: false,
    pinSpent: false,
    roles: [],
    sessions: 0,
    version: 2,
  };
  interface Inside {
    readonly shownBadge: WritableSignal<{ badge: string; pin: string }>;
    readonly badge: { problem: Signal<Problem | null> };
    readonly rows: Signal<readonly { state: string }[]>;
    choose(id: number): Promise<void>;
    badgeWords(each: typeof person): string;
    giveBadge(): void;
    takeBadge(): void;
  }
  const view = (more: Partial<typeof person> = {}): PeopleView => ({ people: [{ ...person, ...more }], roles: [] });

  it('get a badge and a PIN, which stand in no form afterwards; too many wrong ones are said', async () => {
    client.answer(api.setup.people, () => from(Promise.resolve(view())));
    client.answer(api.setup.giveBadge, () => view({ badge: true }));
    const page = pageOf<Inside>(PeoplePage);
    await Promise.resolve();
    await page.choose(4);
    expect(page.badgeWords(person)).toMatch(/by name and password alone/);
    page.shownBadge.set({ badge: 'B-074', pin: '2580' });
    TestBed.tick();
    page.giveBadge();
    expect(client.asked.at(-1)).toMatchObject({
      path: '/setup/people/:id/badge',
      call: { params: { id: 4 }, body: { badge: 'B-074', pin: '2580' } },
    });
    expect(page.shownBadge()).toEqual({ badge: '', pin: '' });
    page.takeBadge();
    expect(lastBody()).toEqual({ badge: '', pin: '' });
    expect(page.badgeWords({ ...person, badge: true, pinSpent: true })).toMatch(/Too many wrong PINs/);
    client.refuse(api.setup.giveBadge, new Problem('weakPin', 'Everybody tries it first.', { pin: 'Everybody tries it first.' }, {}));
    page.giveBadge();
    expect(page.badge.problem()?.code).toBe('weakPin');
  });
});
