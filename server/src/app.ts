/** The server, put together: platform, rooms, files of the web. */
import { existsSync } from 'node:fs';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { join } from 'node:path';
import compression from 'compression';
import express, { Router, type Express, type Request, type RequestHandler, type Response } from 'express';
import { ipKeyGenerator } from 'express-rate-limit';
import helmet from 'helmet';
import { pino, type Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import { randomUUID } from 'node:crypto';
import { Refusal, type FoundingCode } from '@terrace/core';
import { bindAccounts } from './accounts';
import { Imports, bindBulk, bindReceiving } from './bulk';
import { bindBuying } from './buying';
import { bindCatalogue } from './catalogue';
import { bindDesk } from './desk';
import { bindOrderChanges } from './desk/order-changes';
import { OrderRuns, bindOrderRuns } from './desk/order-runs';
import { bindDispatch } from './dispatch';
import { bindCounter } from './counter';
import { bindIncoming } from './incoming';
import { bindReturns } from './returns';
import { Drawing, bindPapers } from './papers';
import { attachPapers } from './papers/attach';
import { Mailer } from './papers/mailer';
import { Forecasts, bindForecasts, bindPlanning, bindPlanningLists, keepPlan, reviewSafeties, type LivePlanner } from './planning';
import { Audit } from './platform/audit';
import { closeFile, closeWhole, isOpen, noteSizes } from './platform/database-file';
import { companyClock, type Clock } from './platform/clock';
import type { Config } from './platform/config';
import { openStore, type Store } from './platform/database';
import { bindFiles } from './platform/files';
import { lockFolder, type FolderLock } from './platform/folder-lock';
import { Binder } from './platform/http';
import { LiveChannel } from './platform/live';
import { describeApi } from './platform/openapi';
import { Door } from './platform/door';
import { answerProblem } from './platform/problem';
import { setRow } from './platform/rows';
import { token } from './platform/schema';
import { Sessions, bindSessions, bindTerminals, secretOf, sessionOf } from './platform/sessions';
import { Watch } from './platform/watch';
import { actorOf, isFounded, personNow, recognise } from './platform/who';
import { Commands } from './platform/commands';
import { NOBODY, type Actor, type Work } from './platform/work';
import { bindProduction } from './production';
import { registerRooms } from './rooms';
import { bindSelling, reserveWhatIsSoon, reviewWhatExpires } from './selling';
import { FileSchedules, bindArchives, bindLogo, bindSetup, freshCode } from './setup';
import { Archives } from './keeping/archives';
import { BackupKeeper } from './keeping/keeper';
import { Watchman, type Eyes } from './keeping/watchman';
import { bindStores, warnOfExpiry } from './stores';

export interface Terrace {
  readonly app: Express;
  readonly store: Store;
  readonly commands: Commands;
  readonly logger: Logger;
  readonly planner: LivePlanner;
  readonly audit: Audit;
  /** By which a company is founded; none where there is one. */
  readonly code: FoundingCode | null;
  readonly backups: BackupKeeper;
  readonly watchman: Watchman;
  readonly mailer: Mailer;
  readonly schedules: FileSchedules;
  /** Does what a new day brings, or a while that the server was off. */
  readonly reviewDay: () => void;
  readonly close: () => Promise<void>;
}

export interface TerraceOptions {
  readonly migrationsFolder: string;
  /** Folder of the built web, or `null` for the API alone. */
  readonly webFolder: string | null;
  /** The file with the description of the API, made when the server was bundled; without one it is made when it is asked for. */
  readonly describedIn?: string;
  /** What day and what time it is, where that is not the machine's clock in the company's time zone; for tests. */
  readonly clock?: Clock;
  /** Checks every answer against the contract; for tests. */
  readonly checkAnswers?: boolean;
  /** Plans in the server's own thread, each change before the next thing happens; for tests. */
  readonly planHere?: boolean;
  /** Puts a backup in the place of what is there, and goes on with that; where nobody can, the screen says how it is done by hand. */
  readonly restore?: (file: string) => void;
  /** What is seen of the machine, where that is not the machine itself; for tests. */
  readonly eyes?: Eyes;
}

/** Commands come from our own pages only: same origin by what the browser itself says, and JSON or a form with a file. */
const sameOrigin: RequestHandler = (request, _response, next) => {
  if (request.method === 'GET' || request.method === 'HEAD') {
    next();
    return;
  }
  const site = request.get('sec-fetch-site');
  const origin = request.get('origin');
  const foreign =
    (site !== undefined && site !== 'same-origin' && site !== 'none') || (origin !== undefined && hostOf(origin) !== request.get('host'));
  next(foreign ? new Refusal('crossSite', 'Commands are taken from Terrace’s own pages only.') : undefined);
};

/** The host of an origin; a page that hides its own, which says "null", has none. */
function hostOf(origin: string): string | null {
  return URL.canParse(origin) ? new URL(origin).host : null;
}

/** What the log says of a request: who asked for what from where, and what came of it. */
function lineOf(asked: IncomingMessage, answered: ServerResponse): object {
  const request = asked as Request;
  const outcome = (answered as Response).locals['outcome'] as string | undefined;
  return {
    id: request.id,
    user: request.actor?.id,
    address: request.ip,
    method: request.method,
    url: request.originalUrl,
    status: answered.statusCode,
    outcome: outcome ?? 'done',
  };
}

/** As much of a moment, in world time, as says its minute. */
const MINUTE = 16;
const WARN_EVERY_MS = 3_600_000;

/** What a new day, or a while that the server was off, has brought. */
function reviewTheDay(work: Work): void {
  warnOfExpiry(work);
  reviewWhatExpires(work);
  reserveWhatIsSoon(work);
}

/** Opens the database and builds the application on it. */
export function openTerrace(config: Config, options: TerraceOptions): Terrace {
  registerRooms();
  const { dataFolder } = config;
  const logger = pino({ level: config.logLevel });
  const lock = lockFolder(dataFolder, 'the server');
  const store = openedOr(lock, () => openStore(dataFolder, options.migrationsFolder));
  // Where the disk is full it goes on without: people are told of that elsewhere.
  const seeSizes = (): void => {
    try {
      noteSizes(store);
    } catch (error) {
      logger.error({ err: error }, 'how many rows the tables have can’t be noted');
    }
  };
  seeSizes();
  const sessions = new Sessions(store, () => commands.ready());
  const whose = (sessionId: string): Actor | null => {
    const id = sessions.personOf(sessionId);
    return id === null ? null : personNow(store, id);
  };
  const live = new LiveChannel(whose);
  const commands = new Commands(store, options.clock ?? companyClock(store, config.today), (events) => {
    // Who has been signed out or may less by this hears no more of it.
    if (events.some(({ topic }) => topic === 'setup')) sessions.forget();
    live.publish(events);
    if (events.some((event) => event.topic === 'mail')) attachPapers(commands, drawing, dataFolder, logger, sendMail);
    // What the planner itself tells is nothing new to it.
    if (events.some((event) => event.topic !== 'plan' || event.userId !== NOBODY.id)) planner.changed();
  });
  const watch = new Watch((held) => logger.warn(held, 'the main thread was held'));
  const audit = new Audit(commands, (error) => logger.error({ err: error }, 'the audit log can’t be kept'));
  const drawing = new Drawing(dataFolder);
  const { planner, isSpoilt } = openedOr(lock, () =>
    keepPlan(commands, {
      dataFolder,
      today: config.today,
      here: options.planHere === true,
      log: (message, about) => logger.error(about, message),
    }),
  );
  const mailer = new Mailer(commands, dataFolder, (message, about) => logger.error(about, message));
  const sendMail = (): void => void mailer.look();
  const imports = new Imports(commands, dataFolder);
  const forecasts = new Forecasts(commands, (message) => logger.error(`forecasting: ${message}`));
  const app = express();
  app.disable('x-powered-by');
  // Whoever else says for whom they ask is not believed.
  app.set('trust proxy', [...(config.proxies ?? [])]);
  // Answers change with every command: a print of each to compare would cost more than it saves.
  app.set('etag', false);
  app.use(
    pinoHttp({
      logger,
      genReqId: () => randomUUID(),
      // The address is written where a line is written, not prepared for every request that might need one.
      wrapSerializers: false,
      serializers: { req: () => undefined, res: () => undefined },
      // What was read and could be is no news; what was refused is.
      customLogLevel: (request, response, error) => {
        if (error !== undefined || response.statusCode >= 500) return 'error';
        return request.method === 'GET' && response.statusCode < 400 ? 'silent' : 'info';
      },
      customSuccessObject: (request, response, { responseTime }: { responseTime: number }) => ({ ...lineOf(request, response), responseTime }),
      customErrorObject: (request, response, error, { responseTime }: { responseTime: number }) => ({
        ...lineOf(request, response),
        err: error,
        responseTime,
      }),
    }),
  );
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          'style-src': ["'self'", "'unsafe-inline'"],
          'worker-src': ["'self'", 'blob:'],
          'img-src': ["'self'", 'data:', 'blob:'],
          'upgrade-insecure-requests': null,
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.get('/api/health', (_request, response) => {
    const { heapUsed, rss } = process.memoryUsage();
    response.json({ status: 'up', today: commands.clock.today(), database: isOpen(store), heapUsed, resident: rss });
  });
  const watchman = new Watchman(commands, dataFolder, (message, about) => logger.error(about, message), options.eyes);
  const secret = secretOf(store);
  const door = new Door(secret);
  /** When a token was used last, to the minute: a program that asks all day is not written down all day. */
  const noteUse = (id: number, lastUse: string | null): void => {
    const now = commands.clock.now();
    if (lastUse?.slice(0, MINUTE) === now.slice(0, MINUTE)) return;
    void commands
      .performTogether(NOBODY, (work) => setRow(work, token, id, { lastUse: now }))
      .catch((error: unknown) => logger.error({ err: error }, 'the use of a token can’t be noted'));
  };
  app.get('/api/openapi.json', (_request, response) => {
    if (options.describedIn === undefined) response.json(describeApi());
    else response.sendFile(options.describedIn);
  });
  const router = Router();
  const binder = new Binder(router, { commands, audit, watch, files: drawing, isSpoilt, checkAnswers: options.checkAnswers ?? false });
  router.use(
    (_request, response, next) => {
      // What somebody may see is for them, and for this moment.
      response.set('cache-control', 'no-store');
      next();
    },
    sessionOf(sessions, secret),
    recognise(store, {
      used: ({ id, lastUse }) => noteUse(id, lastUse),
      wrong: (request) => {
        audit.noteOf(request, 'signInFailed', { person: null, outcome: 'wrongToken' });
        // Counted apart from people who sign in from there.
        const from = `by token ${ipKeyGenerator(request.ip ?? '')}`;
        door.knock(from, from, undefined).over();
      },
    }),
    sameOrigin,
    watchman.guard,
  );
  bindSessions(binder, router, { audit, door, ended: (sessionId) => live.endSession(sessionId) });
  bindTerminals(binder, router, { audit, door, secret });
  router.get('/live', (request, response) => {
    live.open(response, request.sessionID, actorOf(request).id);
  });
  bindDesk(binder);
  const runs = new OrderRuns(commands, (message, about) => logger.error(about, message));
  bindOrderRuns(binder, runs);
  bindOrderChanges(binder, planner);
  bindCatalogue(binder);
  bindStores(binder);
  bindSelling(binder);
  bindBuying(binder);
  bindProduction(binder);
  bindDispatch(binder);
  bindReturns(binder);
  bindCounter(binder);
  bindIncoming(binder);
  bindAccounts(binder);
  bindPlanningLists(binder);
  bindPlanning(binder, planner);
  bindForecasts(binder, forecasts);
  bindBulk(binder, imports);
  bindReceiving(router, imports, audit);
  bindPapers({ router, commands, drawing, planner, audit, dataFolder });
  bindFiles(router, commands, dataFolder, audit);
  const code = isFounded(store) ? null : freshCode();
  bindLogo(router, commands, audit);
  const backups = new BackupKeeper(commands, dataFolder, {
    passphrase: config.passphrase,
    restore: options.restore,
    log: (message, about) => logger.error(about, message),
  });
  const archives = new Archives(commands, dataFolder);
  const schedules = new FileSchedules(commands, dataFolder, { imports, files: drawing, log: (message, about) => logger.error(about, message) });
  bindSetup(binder, { secret, door, code, backups, archives, watchman, mailer, schedules });
  bindArchives(router, { commands, archives, code, audit });
  router.use(() => {
    throw new Refusal('notFound', 'There is nothing under this address of the API: see /api/openapi.json.');
  });
  app.use('/api', router);
  if (options.webFolder !== null) serveWeb(app, options.webFolder);
  app.use(answerProblem({ audit, isSpoilt, damaged: () => watchman.noteDamage() }));
  attachPapers(commands, drawing, dataFolder, logger, sendMail);
  const reviewDay = (): void =>
    void commands
      .performTogether(NOBODY, reviewTheDay)
      .then(() => reviewSafeties(commands))
      .catch((error: unknown) => logger.error(error));
  // Once a day would do; asked every hour, so that a server that was off at night warns in the morning and plans for the new day.
  const hourly = (): void => {
    // Not while a thread writes: it would wait for that, and everybody for it.
    void commands.ready().then(() => {
      if (isOpen(store)) seeSizes();
    });
    reviewDay();
    planner.changed();
  };
  const warning = setInterval(hourly, WARN_EVERY_MS).unref();
  const close = async (): Promise<void> => {
    clearInterval(warning);
    watch.close();
    watchman.close();
    live.close();
    await backups.close();
    await archives.close();
    await mailer.close();
    await runs.close();
    await schedules.close();
    await imports.close();
    await drawing.close();
    await forecasts.close();
    await planner.close();
    await audit.keep();
    if (store.plan) closeFile(store.plan);
    closeWhole(store);
    lock.release();
  };
  return { app, store, commands, logger, planner, audit, code, backups, watchman, mailer, schedules, reviewDay, close };
}

/** Opens something; where that fails, the folder is free for whoever mends it. */
function openedOr<T>(lock: FolderLock, open: () => T): T {
  try {
    return open();
  } catch (error) {
    lock.release();
    throw error;
  }
}

function serveWeb(app: Express, folder: string): void {
  const index = join(folder, 'index.html');
  if (!existsSync(index)) throw new Error(`the web is not built: ${index} is missing`);
  app.use(compression());
  app.use(
    express.static(folder, {
      index: false,
      maxAge: '1y',
      immutable: true,
      setHeaders: (response, path) => {
        if (path.endsWith('.html')) response.set('cache-control', 'no-cache');
      },
    }),
  );
  app.get('/{*path}', (request, response, next) => {
    if (/\.\w+$/.test(request.path)) next();
    else response.set('cache-control', 'no-cache').sendFile(index);
  });
}
