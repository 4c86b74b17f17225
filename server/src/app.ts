/** The server, put together: platform, rooms, files of the web. */
import { existsSync } from 'node:fs';
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import { basename, join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
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
import { bindCatalogue, readVocabulary } from './catalogue';
import { bindDesk } from './desk';
import { OrderRuns, bindOrderRuns } from './desk/order-runs';
import { bindDispatch } from './dispatch';
import { Drawing, bindPapers } from './papers';
import { attachPapers } from './papers/attach';
import { Mailer } from './papers/mailer';
import { Forecasts, bindForecasts, bindPlanning, bindPlanningLists, keepPlan, type LivePlanner } from './planning';
import { Audit } from './platform/audit';
import { closeFile, closeWhole, isOpen } from './platform/database-file';
import { systemClock, type Clock, type Config } from './platform/config';
import { openStore, type Store } from './platform/database';
import { bindFiles } from './platform/files';
import { inFolder, lockFolder, type FolderLock } from './platform/folder-lock';
import { Binder } from './platform/http';
import { LiveChannel } from './platform/live';
import { describeApi } from './platform/openapi';
import { Door } from './platform/door';
import { settingOf } from './platform/settings';
import { answerProblem } from './platform/problem';
import { setRow } from './platform/rows';
import { token } from './platform/schema';
import { Sessions, bindSessions, bindTerminals, secretOf, sessionOf } from './platform/sessions';
import { Watch } from './platform/watch';
import { actorOf, isFounded, personNow, recognise } from './platform/who';
import { Commands } from './platform/commands';
import { NOBODY, type Actor } from './platform/work';
import { bindProduction } from './production';
import { registerRooms } from './rooms';
import { bindSelling, reserveWhatIsSoon, reviewWhatExpires } from './selling';
import { FileSchedules, bindArchives, bindLogo, bindSetup, freshCode } from './setup';
import { Archives } from './keeping/archives';
import { restore } from './keeping/backup';
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
  readonly close: () => Promise<void>;
}

export interface TerraceOptions {
  readonly migrationsFolder: string;
  /** Folder of the built web, or `null` for the API alone. */
  readonly webFolder: string | null;
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
const GRACE_MS = 5000;
/** Who begins a request and does not go on is let go: its heading within seconds, all of it within what a slow line needs for a large file. */
const HEADERS_MS = 15_000;
const REQUEST_MS = 300_000;
const CHECK_MS = 5000;
const MOST_CONNECTIONS = 1000;
const WARN_EVERY_MS = 3_600_000;

/** Opens the database and builds the application on it. */
export function openTerrace(config: Config, options: TerraceOptions): Terrace {
  registerRooms();
  const { dataFolder } = config;
  const logger = pino({ level: config.logLevel });
  const lock = lockFolder(dataFolder, 'the server');
  const store = openedOr(lock, () => openStore(dataFolder, options.migrationsFolder));
  const sessions = new Sessions(store, () => commands.ready());
  const whose = (sessionId: string): Actor | null => {
    const id = sessions.personOf(sessionId);
    return id === null ? null : personNow(store, id);
  };
  const live = new LiveChannel(whose);
  const commands = new Commands(store, options.clock ?? systemClock(config.today, () => settingOf(store, 'timeZone')), (events) => {
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
  const description = describeApi();
  app.get('/api/openapi.json', (_request, response) => {
    response.json(description);
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
  bindCatalogue(binder);
  bindStores(binder);
  bindSelling(binder);
  bindBuying(binder);
  bindProduction(binder);
  bindDispatch(binder);
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
  const warn = (): void =>
    void commands
      .performTogether(NOBODY, (work) => {
        warnOfExpiry(work);
        reviewWhatExpires(work);
        reserveWhatIsSoon(work);
      })
      .catch((error: unknown) => logger.error(error));
  // Once a day would do; asked every hour, so that a server that was off at night warns in the morning and plans for the new day.
  const hourly = (): void => {
    warn();
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
  return { app, store, commands, logger, planner, audit, code, backups, watchman, mailer, schedules, close };
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

export interface Serving {
  /** Lets the requests that run end, and closes everything; the process goes on. */
  readonly end: () => Promise<void>;
}

/** Listens, and stops gracefully at a signal: no new requests, the running ones end, the database is closed. */
async function serve(config: Config, terrace: Terrace): Promise<Serving> {
  const server = createServer({ headersTimeout: HEADERS_MS, requestTimeout: REQUEST_MS, connectionsCheckingInterval: CHECK_MS }, terrace.app);
  server.maxConnections = MOST_CONNECTIONS;
  await new Promise<void>((done, fail) => server.once('error', fail).listen(config.port, config.host, done));
  terrace.backups.begin();
  terrace.watchman.begin();
  terrace.mailer.begin();
  terrace.schedules.begin();
  setImmediate(() => {
    readVocabulary(terrace.commands.look(NOBODY));
    terrace.commands.perform(NOBODY, (work) => {
      warnOfExpiry(work);
      reviewWhatExpires(work);
      reserveWhatIsSoon(work);
    });
  });
  let ending: Promise<void> | null = null;
  const end = (): Promise<void> => {
    ending ??= new Promise<void>((done, fail) => {
      process.off('SIGTERM', stop).off('SIGINT', stop);
      const grace = setTimeout(() => server.closeAllConnections(), GRACE_MS).unref();
      server.close(() => {
        clearTimeout(grace);
        terrace.close().then(done, fail);
      });
      server.closeIdleConnections();
    });
    return ending;
  };
  const stop = (): void => void end().then(() => process.exit(0));
  process.once('SIGTERM', stop).once('SIGINT', stop);
  return { end };
}

/** As long as an answer may need to be on its way before the server goes. */
const ANSWERED_MS = 300;

/**
 * Serves a data folder. A backup that somebody puts back from the screen takes its place while nobody is answered, and serving
 * goes on with it; one that can't be put back leaves everything as it was. `ready` hears of each beginning.
 */
export async function serveFolder(config: Config, options: TerraceOptions, ready: (terrace: Terrace) => void = () => undefined): Promise<Serving> {
  let serving: Serving | null = null;
  let swapping: Promise<void> = Promise.resolve();
  const restore = (file: string): void => {
    swapping = swap(file);
  };
  const begin = async (told: string | null): Promise<void> => {
    const terrace = openTerrace(config, { ...options, restore });
    serving = await serve(config, terrace);
    ready(terrace);
    if (told === null) return;
    terrace.logger.warn(told);
    await terrace.commands.performTogether(NOBODY, (work) => {
      work.record('setup', 0, told);
      work.notify('keeping', told, null);
    });
  };
  const swap = async (file: string): Promise<void> => {
    await pause(ANSWERED_MS);
    await serving?.end();
    await begin(await putBack(config, file));
  };
  await begin(null);
  return {
    end: async () => {
      await swapping;
      await serving?.end();
    },
  };
}

/** Puts a backup in the place of what is there; says what came of it. */
async function putBack({ dataFolder, today, passphrase }: Config, file: string): Promise<string> {
  try {
    const day = systemClock(today).today();
    const { lines, kept } = await inFolder(dataFolder, 'a restore', () => restore(file, dataFolder, day, passphrase));
    const wrong = lines.flatMap(({ holds, check }) => (holds ? [] : [check]));
    if (wrong.length > 0) return `${basename(file)} was not put back, it is damaged: ${wrong.join('; ')}`;
    return `${basename(file)} was put back${kept === null ? '' : `; what was there is kept as ${basename(kept)}`}`;
  } catch (error) {
    return `${basename(file)} was not put back: ${error instanceof Error ? error.message : 'unknown'}`;
  }
}
