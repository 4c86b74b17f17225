/** The demo company on a server of its own, as its operations manager asks it. */
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { openTerrace } from '@terrace/server';
import { copyDemo, DEMO_TODAY } from '../../../scripts/lib/demo.mjs';
import { PASSWORD } from '../index';

export const TODAY = DEMO_TODAY;
const migrationsFolder = fileURLToPath(new URL('../../../server/migrations', import.meta.url));

/** What of a list is asked for. */
export type Asked = Readonly<Record<string, string | number>>;

export interface DemoDesk {
  ask(path: string, query?: Asked): Promise<Response>;
  post(path: string, body: object): Promise<Response>;
  /** The day on which it is looked at from now on. */
  turnTo(day: string): void;
  close(): Promise<void>;
}

export interface Served {
  readonly base: string;
  /** By which a company is founded, where there is none. */
  readonly code: string | null;
  turnTo(day: string): void;
  close(): Promise<void>;
}

/** A server on a folder of its own, in which something may have been built before. */
export async function serveFolder(build: (folder: string) => void): Promise<Served> {
  let day = TODAY;
  const folder = mkdtempSync(join(tmpdir(), 'terrace-demo-'));
  build(folder);
  const terrace = openTerrace(
    { port: 0, host: '127.0.0.1', dataFolder: folder, today: TODAY, logLevel: 'silent' },
    { migrationsFolder, webFolder: null, clock: { today: () => day, now: () => `${day}T09:00:00.000Z` }, checkAnswers: true, planHere: true },
  );
  const server = createServer(terrace.app);
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  return {
    base: `http://127.0.0.1:${(server.address() as AddressInfo).port}/api`,
    code: terrace.code?.code ?? null,
    turnTo: (to) => {
      day = to;
    },
    close: async () => {
      server.close();
      server.closeAllConnections();
      await terrace.close();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

/** Signs in, and waits until all that the outbox holds is drawn: lists of it stand still from then on. */
export async function enter(served: Served, login: string, password = PASSWORD): Promise<DemoDesk> {
  const { base } = served;
  let keys = 0;
  const send = (path: string, body: object, headers: Record<string, string>): Promise<Response> =>
    fetch(`${base}${path}`, { method: 'POST', headers: { 'content-type': 'application/json', ...headers }, body: JSON.stringify(body) });
  const session = await send('/session', { login, password }, {});
  const cookie = session.headers
    .getSetCookie()
    .map((each) => each.split(';')[0])
    .join('; ');
  const ask = (path: string, query: Asked = {}): Promise<Response> => {
    const text = new URLSearchParams(Object.entries(query).map(([name, value]) => [name, String(value)])).toString();
    return fetch(`${base}${path}${text === '' ? '' : `?${text}`}`, { headers: { cookie } });
  };
  for (let left = true; left;) {
    const { rows } = (await (await ask('/outbox?limit=1000')).json()) as { rows: { attachment: string | null }[] };
    left = rows.some((each) => each.attachment === null);
    if (left) await new Promise((done) => setTimeout(done, 50));
  }
  return {
    ask,
    post: (path, body) => send(path, body, { cookie, 'Idempotency-Key': `demo-desk-${(keys += 1)}` }),
    turnTo: (day) => served.turnTo(day),
    close: () => served.close(),
  };
}

export const serveDemo = (): Promise<Served> => serveFolder(copyDemo);

export async function openDemo(): Promise<DemoDesk> {
  return enter(await serveDemo(), 'maren');
}
