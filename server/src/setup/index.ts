/** Setting a company up: people, roles, and how they get in. */
import { rmSync } from 'node:fs';
import { ipKeyGenerator } from 'express-rate-limit';
import { api } from '@terrace/contract';
import { Refusal, normalLogin, type FoundingCode } from '@terrace/core';
import type { RequestHandler, Router } from 'express';
import { z } from 'zod';
import type { Audit } from '../platform/audit';
import type { Commands } from '../platform/commands';
import type { Archives } from '../keeping/archives';
import type { BackupKeeper } from '../keeping/keeper';
import type { Mailer } from '../papers/mailer';
import type { Watchman } from '../keeping/watchman';
import type { Binder } from '../platform/http';
import { sentFile, takesFile } from '../platform/upload';
import { companyOf, settingOf } from '../platform/settings';
import { chosenPassword, isPassword } from '../platform/passwords';
import type { Door } from '../platform/door';
import { secretOfToken, tokenText } from '../platform/tokens';
import { actorOf, assertInPerson, isFounded, permitted } from '../platform/who';
import { assertOpens, found, wasFoundedBy } from './founding';
import { guideOf } from './guide';
import {
  accountsView,
  dropLogo,
  house,
  keepLogo,
  numberingView,
  rulesView,
  saveAccount,
  saveAccountUse,
  saveHouse,
  saveNumbering,
  saveReason,
  saveRules,
} from './house';
import type { FileSchedules } from './schedules';
import { NOBODY, type Actor, type Work } from '../platform/work';
import {
  addPerson,
  assertOpen,
  changePerson,
  endOwnSession,
  endSessionsOf,
  joinBy,
  linkFor,
  linkText,
  ownSessions,
  ownerOf,
  peopleView,
  personOf,
  setPassword,
} from './people';
import { addBins, addWarehouse, afterAdding, binsView, changeBin, changeBins, changeWarehouse, placesView } from './places';
import { addToken, dropToken, dropTokenOf, everyToken, tokensView } from './tokens';
import { addTerminal, chosenPin, codeFor, dropTerminal, giveBadge, terminalsView } from './terminals';
import { removeRole, saveRole, weighRole } from './roles';

export { FileSchedules, saveSchedule } from './schedules';
export { house, rulesView, saveHouse, saveRules } from './house';
export { addTerminal, giveBadge } from './terminals';
export { addPerson } from './people';
export { binsView, changeBins, placesView } from './places';
export { freshCode } from './founding';
export { roleCalled, setUpRoles } from './roles';

function bindPlaces(binder: Binder): void {
  const { setup } = api;
  binder.read(setup.places, (work) => placesView(work));
  binder.read(setup.bins, (work, { params }) => binsView(work, params.id));
  binder.command(setup.addWarehouse, (work, { body }) => afterAdding(work, addWarehouse(work, body)));
  binder.change(setup.changeWarehouse, (work, { params, body }) => changeWarehouse(work, params.id, body), placesView);
  binder.command(setup.addBins, (work, { params, body }) => {
    const added = addBins(work, params.id, body);
    return { ...binsView(work, params.id), added };
  });
  binder.change(
    setup.changeBins,
    (work, { params, body }) => changeBins(work, params.id, body),
    (work, { params }) => binsView(work, params.id),
  );
  binder.change(
    setup.changeBin,
    (work, { params, body }) => changeBin(work, params.id, params.bin, body),
    (work, { params }) => binsView(work, params.id),
  );
}

function bindHouse(binder: Binder): void {
  const { setup } = api;
  binder.read(setup.house, house);
  binder.change(setup.saveHouse, (work, { body }) => saveHouse(work, body), house);
  binder.change(setup.dropLogo, (work) => dropLogo(work), house);
  binder.read(setup.numbering, numberingView);
  binder.change(setup.saveNumbering, (work, { body }) => saveNumbering(work, body), numberingView);
  binder.read(setup.accounts, accountsView);
  binder.change(setup.saveAccount, (work, { body }) => saveAccount(work, body), accountsView);
  binder.change(setup.saveAccountUse, (work, { body }) => saveAccountUse(work, body), accountsView);
  binder.read(setup.houseRules, rulesView);
  binder.change(setup.saveHouseRules, (work, { body }) => saveRules(work, body), rulesView);
  binder.change(setup.saveReason, (work, { body }) => saveReason(work, body), accountsView);
}

const MOST_LOGO_BYTES = 300 * 1024;

/** `POST /setup/logo`, a form with a file; `GET /setup/logo`, the picture. */
export function bindLogo(router: Router, commands: Commands, audit: Audit): void {
  router.post('/setup/logo', ...takesFile({ permit: permitted('setup.edit'), mostBytes: MOST_LOGO_BYTES }), async (request, response) => {
    const { name, content } = sentFile(request);
    await commands.performTogether(actorOf(request), (work) => keepLogo(work, content));
    audit.noteOf(request, 'setupChanged', { detail: `picture on papers: ${name}` });
    response.json(house(commands.look(actorOf(request))));
  });
  router.get('/setup/logo', permitted('setup.see'), (_request, response) => {
    const [, type = '', data = ''] = /^data:(image\/\w+);base64,(.+)$/.exec(settingOf(commands.store, 'logo') ?? '') ?? [];
    if (data === '') throw new Refusal('notFound', 'Papers have no picture.');
    response.type(type).send(Buffer.from(data, 'base64'));
  });
}

const MOST_ARCHIVE_BYTES = 4 * 1024 ** 3;

export interface ArchiveParts {
  readonly commands: Commands;
  readonly archives: Archives;
  readonly code: FoundingCode | null;
  readonly audit: Audit;
}

/** `GET /setup/archives/:name`, an archive; `POST /founding/archive`, a form with one: the company is founded from it. */
export function bindArchives(router: Router, { commands, archives, code, audit }: ArchiveParts): void {
  const named = z.object({ name: z.string().max(60) });
  router.get('/setup/archives/:name', permitted('setup.edit'), async (request, response) => {
    assertInPerson(actorOf(request));
    const { name } = named.parse(request.params);
    const path = archives.pathOf(name);
    audit.noteOf(request, 'fileTaken', { detail: name });
    await new Promise<void>((done, fail) => response.download(path, name, (error) => (error instanceof Error ? fail(error) : done())));
  });
  const mayFound: RequestHandler = (request, _response, next) => {
    if (isFounded(commands.store)) throw new Refusal('founded', 'The company is founded: sign in, or ask whoever did it.');
    assertOpens(code, request.get('x-founding-code') ?? '');
    next();
  };
  const fields = z.object({ login: z.string().trim().min(1).max(80), password: z.string().max(200) });
  router.post(
    '/founding/archive',
    ...takesFile({ permit: mayFound, mostBytes: MOST_ARCHIVE_BYTES, folder: archives.folder }),
    async (request, response) => {
      const { path } = sentFile(request);
      try {
        const { login, password } = fields.parse(request.body);
        const passwordHash = await chosenPassword(password, [login]);
        await archives.found(path, { login, passwordHash });
        code?.end();
        response.json({ login: normalLogin(login) });
      } finally {
        rmSync(path, { force: true });
      }
    },
  );
}

function bindKeeping(binder: Binder, { backups, archives, watchman }: Pick<SetupParts, 'backups' | 'archives' | 'watchman'>): void {
  const { setup } = api;
  binder.read(setup.keeping, () => backups.view());
  binder.change(
    setup.saveBackups,
    (work, { body }) => backups.save(work, body),
    () => backups.view(),
  );
  binder.task(setup.backUpNow, async () => {
    await backups.make();
    return backups.view();
  });
  binder.read(setup.condition, () => ({ condition: watchman.condition() }));
  binder.change(
    setup.believeClock,
    (work) => watchman.believeClock(work),
    () => ({ condition: watchman.condition() }),
  );
  binder.read(setup.archives, () => archives.view());
  binder.task(setup.writeArchive, async (_commands, actor) => {
    await archives.write(actor);
    return archives.view();
  });
  binder.task(setup.restoreBackup, (_commands, actor, { params }) => {
    assertInPerson(actor);
    backups.restore(params.name);
    return Promise.resolve({});
  });
  binder.ask(setup.lookIntoBackup, (_actor, { params }) => backups.lookInto(params.name));
}

function bindMail(binder: Binder, { mailer }: Pick<SetupParts, 'mailer'>): void {
  const { setup } = api;
  binder.read(setup.mailSettings, () => mailer.view());
  binder.change(
    setup.saveMailSettings,
    (work, { body }) => mailer.save(work, body),
    () => mailer.view(),
  );
  binder.task(setup.tryMail, async (_commands, actor, { body }) => {
    assertInPerson(actor);
    return { said: await mailer.try(body.to) };
  });
  binder.change(
    setup.sendAgain,
    (work, { params }) => mailer.again(work, params.id),
    () => mailer.view(),
  );
}

function bindSchedules(binder: Binder, { schedules }: Pick<SetupParts, 'schedules'>): void {
  const { setup } = api;
  const view = (work: Work) => schedules.view(work);
  binder.read(setup.schedules, view);
  binder.change(
    setup.saveSchedule,
    (work, { body }) => {
      assertInPerson(work.actor);
      schedules.save(work, body);
    },
    view,
  );
  binder.change(setup.dropSchedule, (work, { params }) => schedules.drop(work, params.id), view);
  binder.task(setup.runSchedule, async (commands, actor, { params }) => {
    await schedules.run(commands.look(actor), params.id);
    return schedules.view(commands.look(actor));
  });
}

export interface SetupParts {
  /** What links are signed with. */
  readonly secret: string;
  /** Counts tries of passwords. */
  readonly door: Door;
  /** By which the company is founded; none where it is. */
  readonly code: FoundingCode | null;
  readonly backups: BackupKeeper;
  readonly archives: Archives;
  readonly watchman: Watchman;
  readonly mailer: Mailer;
  readonly schedules: FileSchedules;
}

/** The session that somebody asks through. */
const sessionOf = ({ session }: Actor): string => session ?? '';

export function bindSetup(binder: Binder, { secret, door, code, ...kept }: SetupParts): void {
  const { setup } = api;
  binder.task(setup.found, async (commands, _actor, { body }) => {
    const work = commands.look(NOBODY);
    if (isFounded(work.store) && (await wasFoundedBy(work.store, body))) return { login: body.login };
    if (!isFounded(work.store)) assertOpens(code, body.code);
    const passwordHash = await chosenPassword(body.password, [body.login, body.name, body.company]);
    const founder = { ...NOBODY, name: body.name };
    const answer = await commands.performTogether(founder, (mine) => found(mine, body, passwordHash));
    code?.end();
    return answer;
  });
  binder.read(setup.guide, (work) => ({ steps: guideOf(work) }));
  bindPlaces(binder);
  bindHouse(binder);
  bindKeeping(binder, kept);
  bindMail(binder, kept);
  bindSchedules(binder, kept);
  binder.read(setup.people, (work) => peopleView(work));
  binder.task(setup.addPerson, async (commands, actor, { body }, once) => {
    // The link is worked out from its number when it is answered: kept answers don't have it.
    const { id, linkId } = await commands.performTogether(
      actor,
      (work) => {
        const added = addPerson(work, body);
        return { id: added, linkId: linkFor(work, added) };
      },
      once,
    );
    const work = commands.look(actor);
    return { view: peopleView(work), id, link: linkText(work, secret, linkId) };
  });
  binder.change(setup.changePerson, (work, { params, body }) => changePerson(work, params.id, body), peopleView);
  binder.task(setup.linkForPerson, async (commands, actor, { params }, once) => {
    const { linkId } = await commands.performTogether(actor, (work) => ({ linkId: linkFor(work, params.id) }), once);
    return linkText(commands.look(actor), secret, linkId);
  });
  binder.task(setup.giveBadge, async (commands, actor, { params, body }, once) => {
    const pinHash = await chosenPin(body.pin);
    await commands.performTogether(actor, (work) => giveBadge(work, secret, params.id, body.badge, pinHash), once);
    return peopleView(commands.look(actor));
  });
  binder.read(setup.terminals, terminalsView);
  binder.task(setup.addTerminal, async (commands, actor, { body }) => {
    const code = await commands.performTogether(actor, (work) => addTerminal(work, body));
    return { ...terminalsView(commands.look(actor)), code };
  });
  binder.task(setup.codeForTerminal, async (commands, actor, { params }) => {
    const code = await commands.performTogether(actor, (work) => codeFor(work, params.id));
    return { ...terminalsView(commands.look(actor)), code };
  });
  binder.change(setup.dropTerminal, (work, { params }) => dropTerminal(work, params.id), terminalsView);
  binder.change(setup.endSessionsOf, (work, { params }) => endSessionsOf(work, params.id), peopleView);
  binder.command(setup.weighRole, (work, { body }) => weighRole(work, body));
  binder.change(setup.saveRole, (work, { body }) => saveRole(work, body), peopleView);
  binder.change(setup.dropRole, (work, { params }) => removeRole(work, params.id), peopleView);

  binder.read(setup.whoseLink, (work, { params }) => {
    const owner = ownerOf(work, secret, params.link);
    assertOpen(owner);
    return { name: owner.name, login: owner.login };
  });
  binder.task(setup.joinByLink, async (commands, _actor, { params, body }) => {
    const work = commands.look(NOBODY);
    const owner = ownerOf(work, secret, params.link);
    // Whoever asks again since the answer was lost has that password already.
    if (owner.usedAt !== null && owner.passwordHash !== '' && (await isPassword(owner.passwordHash, body.password))) return { login: owner.login };
    assertOpen(owner);
    const passwordHash = await chosenPassword(body.password, [owner.login, owner.name, companyOf(work.store)]);
    const { userId: id, name } = owner;
    await commands.performTogether({ ...NOBODY, id, name }, (mine) => joinBy(mine, secret, params.link, passwordHash));
    return { login: owner.login };
  });
  binder.task(setup.changePassword, async (commands, actor, { body }) => {
    assertInPerson(actor);
    const work = commands.look(actor);
    const { login, name, passwordHash: kept } = personOf(work, actor.id);
    const knock = door.knock(login, ipKeyGenerator(sessionOf(actor)), undefined);
    try {
      if (await isPassword(kept, body.old)) knock.succeeded();
      // Whoever asks again since the answer was lost has the new one already.
      else if (await isPassword(kept, body.password)) return {};
      else throw new Refusal('wrongPassword', 'This is not your password of now.', { field: 'old' });
    } finally {
      knock.over();
    }
    const passwordHash = await chosenPassword(body.password, [login, name, companyOf(work.store)]);
    await commands.performTogether(actor, (mine) => setPassword(mine, sessionOf(actor), passwordHash));
    return {};
  });
  binder.read(setup.everyToken, everyToken);
  binder.change(setup.dropTokenOf, (work, { params }) => dropTokenOf(work, params.id), everyToken);
  binder.read(setup.tokens, (work) => tokensView(work));
  binder.task(setup.addToken, async (commands, actor, { body }, once) => {
    assertInPerson(actor);
    const kept = secretOfToken(secret, actor.id, once.key);
    const { id } = await commands.performTogether(actor, (work) => ({ id: addToken(work, body, kept) }), once);
    return { ...tokensView(commands.look(actor)), token: tokenText(id, kept) };
  });
  binder.change(
    setup.dropToken,
    (work, { params }) => {
      assertInPerson(work.actor);
      dropToken(work, params.id);
    },
    tokensView,
  );
  binder.read(setup.ownSessions, (work) => ownSessions(work, sessionOf(work.actor)));
  binder.command(setup.endOwnSession, (work, { params }) => {
    assertInPerson(work.actor);
    const ended = endOwnSession(work, params.key, sessionOf(work.actor));
    work.record('setup', work.actor.id, 'ended sessions of their own');
    return { ended };
  });
}
