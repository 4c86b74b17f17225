/** Serving a data folder: listening, ending gracefully, and going on with a backup that was put back from the screen. */
import { createServer } from 'node:http';
import { basename } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { openTerrace, type Terrace, type TerraceOptions } from './app';
import { readVocabulary } from './catalogue';
import { restore } from './keeping/backup';
import type { Config } from './platform/config';
import { inFolder } from './platform/folder-lock';
import { NOBODY } from './platform/work';

const GRACE_MS = 5000;
/** Who begins a request and does not go on is let go: its heading within seconds, all of it within what a slow line needs for a large file. */
const HEADERS_MS = 15_000;
const REQUEST_MS = 300_000;
const CHECK_MS = 5000;
const MOST_CONNECTIONS = 1000;

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
    terrace.reviewDay();
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
    const { lines, kept } = await inFolder(dataFolder, 'a restore', () => restore(file, dataFolder, today, passphrase));
    const wrong = lines.flatMap(({ holds, check }) => (holds ? [] : [check]));
    if (wrong.length > 0) return `${basename(file)} was not put back, it is damaged: ${wrong.join('; ')}`;
    return `${basename(file)} was put back${kept === null ? '' : `; what was there is kept as ${basename(kept)}`}`;
  } catch (error) {
    return `${basename(file)} was not put back: ${error instanceof Error ? error.message : 'unknown'}`;
  }
}
