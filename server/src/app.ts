/** The server, put together: platform, rooms, files of the web. */
import { existsSync } from 'node:fs';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { join } from 'node:path';
import compression from 'compression';
import express, { Router, type Express, type RequestHandler } from 'express';
import helmet from 'helmet';
import { pino, type Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import { randomUUID } from 'node:crypto';
import { Refusal } from '@terrace/core';
import { bindAccounts } from './accounts';
import { Imports, bindBulk } from './bulk';
import { bindBuying } from './buying';
import { bindCatalogue, readVocabulary } from './catalogue';
import { bindDesk } from './desk';
import { bindDispatch } from './dispatch';
import { bindPapers } from './papers';
import { attachPapers } from './papers/attach';
import { Forecasts, bindForecasts, bindPlanning, openPlanFile, openPlanToRead, planHere, planInThread, type LivePlanner } from './planning';
import { closeFile, closeWhole, isOpen } from './platform/database-file';
import type { Clock, Config } from './platform/config';
import { openStore, type Store } from './platform/database';
import { bindFiles } from './platform/files';
import { Binder } from './platform/http';
import { LiveChannel } from './platform/live';
import { describeApi } from './platform/openapi';
import { answerProblem } from './platform/problem';
import { bindSessions, sessions } from './platform/sessions';
import { ListPapers } from './platform/sheet';
import { Commands } from './platform/commands';
import { NOBODY } from './platform/work';
import { bindProduction } from './production';
import { registerRooms } from './rooms';
import { bindSelling, reviewWhatExpires } from './selling';
import { bindStores, warnOfExpiry } from './stores';

export interface Terrace {
  readonly app: Express;
  readonly store: Store;
  readonly commands: Commands;
  readonly logger: Logger;
  readonly planner: LivePlanner;
  readonly close: () => Promise<void>;
}

export interface TerraceOptions {
  readonly migrationsFolder: string;
  /** Folder of the built web, or `null` for the API alone. */
  readonly webFolder: string | null;
  readonly clock: Clock;
  /** Checks every answer against the contract; for tests. */
  readonly checkAnswers?: boolean;
  /** Plans in the server's own thread, each change before the next thing happens; for tests. */
  readonly planHere?: boolean;
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

function lineOf(request: IncomingMessage, response: ServerResponse): object {
  return { id: request.id, method: request.method, url: request.url, status: response.statusCode };
}

const GRACE_MS = 5000;
const WARN_EVERY_MS = 3_600_000;

/** Opens the database and builds the application on it. */
export function openTerrace(config: Config, options: TerraceOptions): Terrace {
  registerRooms();
  const logger = pino({ level: config.logLevel });
  const store = openStore(config.dataFolder, options.migrationsFolder);
  const live = new LiveChannel();
  const commands = new Commands(store, options.clock, (events) => {
    live.publish(events);
    if (events.some((event) => event.topic === 'mail')) attachPapers(commands, config.dataFolder, logger);
    // What the planner itself tells is nothing new to it.
    if (events.some((event) => event.topic !== 'plan' || event.userId !== NOBODY.id)) planner.changed();
  });
  const planner = openPlanner(config, options, commands, logger);
  const imports = new Imports(commands, config.dataFolder);
  const forecasts = new Forecasts(commands, (message) => logger.error(`forecasting: ${message}`));
  const app = express();
  app.disable('x-powered-by');
  // Answers change with every command: a print of each to compare would cost more than it saves.
  app.set('etag', false);
  app.use(
    pinoHttp({
      logger,
      genReqId: () => randomUUID(),
      // The address is written where a line is written, not prepared for every request that might need one.
      wrapSerializers: false,
      serializers: { req: () => undefined, res: () => undefined },
      autoLogging: { ignore: (request) => request.method === 'GET' },
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
    response.json({ status: 'up', today: options.clock.today(), database: isOpen(store), heapUsed, resident: rss });
  });
  const description = describeApi();
  app.get('/api/openapi.json', (_request, response) => {
    response.json(description);
  });
  const router = Router();
  const papers = new ListPapers();
  const binder = new Binder(router, commands, options.checkAnswers ?? false, papers);
  router.use(
    express.json({ limit: '2mb' }),
    sessions(store, () => commands.ready()),
    sameOrigin,
  );
  bindSessions(binder, router);
  router.get('/live', (request, response) => {
    const { actor } = request.session;
    if (!actor) throw new Refusal('notSignedIn', 'Sign in to hear of changes.');
    live.open(response, actor.id);
  });
  bindDesk(binder);
  bindCatalogue(binder);
  bindStores(binder);
  bindSelling(binder);
  bindBuying(binder);
  bindProduction(binder);
  bindDispatch(binder);
  bindAccounts(binder);
  bindPlanning(binder, planner);
  bindForecasts(binder, forecasts);
  bindBulk(binder, router, imports);
  bindPapers(router, commands, config.dataFolder, planner);
  bindFiles(router, commands, config.dataFolder);
  router.use(() => {
    throw new Refusal('notFound', 'There is nothing under this address of the API: see /api/openapi.json.');
  });
  app.use('/api', router);
  if (options.webFolder !== null) serveWeb(app, options.webFolder);
  app.use(answerProblem);
  attachPapers(commands, config.dataFolder, logger);
  const warn = (): void =>
    void commands
      .performTogether(NOBODY, (work) => {
        warnOfExpiry(work);
        reviewWhatExpires(work);
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
    live.close();
    await imports.close();
    await papers.close();
    await forecasts.close();
    await planner.close();
    if (store.plan) closeFile(store.plan);
    closeWhole(store);
  };
  return { app, store, commands, logger, planner, close };
}

/** Opens the plan's file and begins to keep the plan; the open screens are told whenever it has changed. */
function openPlanner(config: Config, options: TerraceOptions, commands: Commands, logger: Logger): LivePlanner {
  const { store } = commands;
  const file = openPlanFile(config.dataFolder);
  store.plan = openPlanToRead(config.dataFolder);
  const events = {
    planned: (): void => commands.tell(NOBODY, ['plan'], 'planned'),
    promised: (): void => commands.tell(NOBODY, ['plan'], 'promises'),
    failed: (message: string): void => logger.error(`planning: ${message}`),
  };
  const clock = (): { today: string; now: string } => ({ today: options.clock.today(), now: options.clock.now() });
  if (options.planHere === true) return planHere(store, file, clock, events);
  closeFile(file);
  return planInThread(config.dataFolder, config.today, events);
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

/** Listens, and stops gracefully at a signal: no new requests, the running ones end, the database is closed. */
export async function serve(config: Config, terrace: Terrace): Promise<Server> {
  const server = createServer(terrace.app);
  await new Promise<void>((done, fail) => server.once('error', fail).listen(config.port, config.host, done));
  setImmediate(() => {
    readVocabulary(terrace.commands.look(NOBODY));
    terrace.commands.perform(NOBODY, (work) => {
      warnOfExpiry(work);
      reviewWhatExpires(work);
    });
  });
  let stopping = false;
  const stop = (): void => {
    if (stopping) return;
    stopping = true;
    setTimeout(() => server.closeAllConnections(), GRACE_MS).unref();
    server.close(() => void terrace.close().then(() => process.exit(0)));
    server.closeIdleConnections();
  };
  process.once('SIGTERM', stop).once('SIGINT', stop);
  return server;
}
