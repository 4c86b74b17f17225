/**
 * A storm over the stores: fifty people at random, and the server killed in between. Whatever was answered is true
 * afterwards; what was not answered is asked again with the same key and then answered once. Half of the time three more play
 * along who mean ill (see `storm-players.ts`): what they do to the fifty is printed. STORM_SECONDS sets how long.
 */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type Sqlite from 'better-sqlite3';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { PASSWORD } from '@terrace/demo';
import { copyDemo } from '../../scripts/lib/demo.mjs';
import { sessionOf, untilUp } from '../../scripts/lib/up.mjs';
import { Players } from './storm-players';

const root = dirname(dirname(dirname(fileURLToPath(import.meta.url))));
const bundle = join(root, 'dist/terrace.js');
const folder = mkdtempSync(join(tmpdir(), 'terrace-storm-'));
const data = join(folder, 'data');
const PORT = 4394;
const CLIENTS = 50;
/** Less in the short run of `npm test` than in `npm run storm`. */
const KILLS = process.env['STORM_SECONDS'] === undefined ? 1 : 3;
const MOST_RESIDENT = 700 * 1024 * 1024;
const LOOK_EVERY_MS = 100;
const SECONDS = Number(process.env['STORM_SECONDS'] ?? 9);
const open = (): Sqlite.Database =>
  new (createRequire(import.meta.url)('better-sqlite3') as typeof Sqlite)(join(data, 'terrace.db'), { readonly: true });

/** So much of each is to have happened in each round, however slow the machine is. */
const ENOUGH = 25;

/** Waits for some time, and longer where not enough has happened by then; not forever. */
async function lasting(time: number, enough: () => boolean): Promise<void> {
  const begun = Date.now();
  while (Date.now() - begun < time || (!enough() && Date.now() - begun < 60_000)) await new Promise((over) => setTimeout(over, LOOK_EVERY_MS));
}

interface Ask {
  readonly key: string;
  readonly path: string;
  readonly body: object;
  /** What is true once it has been done: pieces of an item, or one serial number gone. */
  readonly effect?: { readonly item: number; readonly change: number } | { readonly serial: string };
}

let server: ChildProcess | null = null;
let cookie = '';
let day = 1;

const settings = (): NodeJS.ProcessEnv => ({
  ...process.env,
  TERRACE_DATA: data,
  TERRACE_PORT: String(PORT),
  TERRACE_TODAY: `2027-03-${String(day).padStart(2, '0')}`,
  TERRACE_LOG: 'silent',
});

async function signIn(login: string): Promise<string> {
  const answer = await fetch(`http://127.0.0.1:${PORT}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ login, password: PASSWORD }),
  });
  return sessionOf(answer);
}

async function start(): Promise<Players> {
  server = spawn(process.execPath, [bundle, 'serve'], { env: settings(), stdio: 'ignore' });
  await untilUp(`http://127.0.0.1:${PORT}`, server);
  cookie = await signIn('maren');
  return new Players(PORT, await signIn('perrin'), await signIn('isolde'));
}

interface Said {
  readonly status: number;
  readonly json: {
    id?: number;
    number?: string;
    version?: number;
    state?: string;
    lines?: { id: number; orderLineId: number; quantity: string; onTheWay?: string }[];
  };
}

/** How long the fifty waited for each answer, in milliseconds: by themselves, and while the others played. */
const waited: { calm: number[]; attacked: number[] } = { calm: [], attacked: [] };
let attacked = false;
/** The most memory that the server held, in bytes. */
let resident = 0;

async function lookAtMemory(): Promise<void> {
  try {
    const health = (await (await fetch(`http://127.0.0.1:${PORT}/api/health`)).json()) as { resident: number };
    resident = Math.max(resident, health.resident);
  } catch {
    // The server was killed: there is nothing to look at until the next is up.
  }
}

const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0;

/** `null` where the answer was lost. */
async function say(ask: Ask): Promise<Said | null> {
  const times = attacked ? waited.attacked : waited.calm;
  const start = performance.now();
  try {
    const answer = await fetch(`http://127.0.0.1:${PORT}/api${ask.path}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', cookie, 'idempotency-key': ask.key },
      body: JSON.stringify(ask.body),
    });
    const json = (await answer.json()) as Said['json'];
    times.push(performance.now() - start);
    return { status: answer.status, json };
  } catch {
    // The server was killed: nobody knows yet whether it was done.
    return null;
  }
}

const changes = new Map<number, number>();
const gone = new Map<string, number>();
const numbers: string[] = [];
const unanswered: Ask[] = [];
let done = 0;
let refused = 0;

function keep(ask: Ask, said: Said): void {
  // A fault is never an answer: refusals are 4xx.
  expect(said.status, `${ask.path}: ${JSON.stringify(said.json)}`).toBeLessThan(500);
  if (said.status !== 200) {
    refused += 1;
    return;
  }
  done += 1;
  if (said.json.number !== undefined) numbers.push(said.json.number);
  if (!ask.effect) return;
  if ('serial' in ask.effect) gone.set(ask.effect.serial, (gone.get(ask.effect.serial) ?? 0) + 1);
  else changes.set(ask.effect.item, (changes.get(ask.effect.item) ?? 0) + ask.effect.change);
}

async function ask(request: Ask): Promise<Said | null> {
  const said = await say(request);
  if (said === null) unanswered.push(request);
  else keep(request, said);
  return said;
}

beforeAll(() => copyDemo(data));
afterAll(() => {
  server?.kill('SIGKILL');
  rmSync(folder, { recursive: true, force: true });
});

describe('a storm over the stores', () => {
  it(
    'leaves nothing below zero, nothing half done, and every answer true',
    async () => {
      const db = open();
      const id = (code: string): number => db.prepare('select id from item where code = ?').pluck().get(code) as number;
      const [jar, smoker, wax, motor] = [id('JAR-500'), id('SMOKER'), id('RAWWAX'), id('EXTRACT-9')];
      const onHand = (item: number): number =>
        (open().prepare('select coalesce(sum(quantity), 0) as n from balance where item_id = ?').get(item) as { n: number }).n;
      const bin = db
        .prepare("select n.id from bin n join warehouse w on w.id = n.warehouse_id where w.code = 'WORKS' and n.code = 'B-02'")
        .pluck()
        .get() as number;
      const lot = db
        .prepare(
          "select b.lot, b.bin_id as bin from balance b join lot l on l.item_id = b.item_id and l.code = b.lot where b.item_id = ? and b.state = 'available' order by b.quantity desc limit 1",
        )
        .get(wax) as { lot: string; bin: number };
      const serials = db.prepare("select serial, bin_id as bin, state from balance where item_id = ? and serial <> ''").all(motor) as {
        serial: string;
        bin: number;
        state: string;
      }[];
      db.close();
      const before = new Map([jar, smoker, wax].map((item) => [item, onHand(item)]));
      let keys = 0;
      let stop = false;
      const one = (path: string, body: object, effect?: Ask['effect']): Promise<Said | null> => {
        keys += 1;
        return ask({ key: `storm-key-${keys}`, path, body, ...(effect ? { effect } : {}) });
      };
      const adjust = (
        itemId: number,
        binId: number,
        change: number,
        more: object = {},
        effect: Ask['effect'] = { item: itemId, change },
      ): Promise<Said | null> =>
        one(
          '/stores/adjustments',
          { warehouseId: 1, reason: 'BREAKAGE', note: 'storm', lines: [{ itemId, binId, change: String(change), ...more }] },
          effect,
        );
      const any = <T>(list: readonly T[]): T | undefined => list[Math.floor(Math.random() * list.length)];

      const order = async (itemId: number): Promise<void> => {
        const quantity = String(1 + Math.floor(Math.random() * 4));
        const made = await one('/selling/orders', {
          customerId: 1,
          warehouseId: 1,
          requiredDate: '2027-03-28',
          confirm: true,
          lines: [{ itemId, quantity }],
        });
        if (made?.status !== 200 || made.json.id === undefined) return;
        const shipment = await one('/dispatch/shipments', { orderId: made.json.id });
        if (shipment?.status !== 200 || Math.random() < 0.4) return;
        const going = shipment.json.lines?.[0]?.quantity ?? '0';
        await one(`/dispatch/shipments/${shipment.json.id ?? 0}/ship`, { version: shipment.json.version }, { item: itemId, change: -Number(going) });
      };
      const transfer = async (): Promise<void> => {
        const made = await one('/stores/transfers', {
          fromId: 1,
          toId: 2,
          shipDate: '2027-03-28',
          dueDate: '2027-03-29',
          lines: [{ itemId: smoker, quantity: '1' }],
        });
        if (made?.status !== 200) return;
        const shipped = await one(`/stores/transfers/${made.json.id ?? 0}/ship`, { version: made.json.version });
        const line = shipped?.json.lines?.[0];
        if (shipped?.status !== 200 || !line || Math.random() < 0.3) return;
        await one(`/stores/transfers/${made.json.id ?? 0}/receive`, {
          version: shipped.json.version,
          lines: [{ lineId: line.id, quantity: line.onTheWay ?? '0' }],
        });
      };
      const client = async (): Promise<void> => {
        while (!stop) {
          const dice = Math.random();
          if (dice < 0.2) await adjust(jar, bin, -1 - Math.floor(Math.random() * 9));
          else if (dice < 0.35) await adjust(jar, bin, 1 + Math.floor(Math.random() * 9));
          else if (dice < 0.5) await adjust(wax, lot.bin, -1, { pieces: [{ lot: lot.lot }] });
          else if (dice < 0.6) {
            const piece = any(serials);
            if (piece) await adjust(motor, piece.bin, -1, { state: piece.state, pieces: [{ serials: piece.serial }] }, { serial: piece.serial });
          } else if (dice < 0.85) await order(Math.random() < 0.5 ? jar : smoker);
          else await transfer();
        }
      };

      const faults: string[] = [];
      let [asked, held] = [0, 0];
      for (let round = 0; round <= KILLS; round += 1) {
        const players = await start();
        for (const lost of unanswered.splice(0)) {
          const said = await say(lost);
          expect(said).not.toBeNull();
          if (said) keep(lost, said);
        }
        stop = false;
        const clients = Array.from({ length: CLIENTS }, () => client());
        const memory = setInterval(() => void lookAtMemory(), LOOK_EVERY_MS);
        const half = (SECONDS * 500) / (KILLS + 1);
        await lasting(half, () => done > ENOUGH * (round + 1));
        attacked = true;
        players.begin();
        await lasting(half, () => players.asked > ENOUGH);
        if (round < KILLS) server?.kill('SIGKILL');
        stop = true;
        await Promise.all([...clients, players.end()]);
        clearInterval(memory);
        attacked = false;
        faults.push(...players.faults);
        asked += players.asked;
        held += players.held;
        day += 1;
      }
      server?.kill('SIGTERM');
      await new Promise((over) => server?.once('exit', over));

      const checked = spawnSync(process.execPath, [bundle, 'check'], { env: settings(), encoding: 'utf8' });
      expect(checked.stdout).toContain('all is well');
      expect(checked.status).toBe(0);
      expect(done).toBeGreaterThan(100);
      expect(refused).toBeGreaterThan(0);
      for (const item of [jar, smoker, wax]) expect(onHand(item)).toBe((before.get(item) ?? 0) + Math.round((changes.get(item) ?? 0) * 100_000));
      const after = open();
      for (const { serial } of serials) {
        const here = after.prepare('select count(*) from balance where item_id = ? and serial = ?').pluck().get(motor, serial) as number;
        expect([serial, gone.get(serial) ?? 0]).toEqual([serial, 1 - here]);
      }
      const known = new Set(
        after
          .prepare(
            'select number from customer_order union select number from shipment union select number from adjustment union select number from transfer',
          )
          .pluck()
          .all(),
      );
      expect(numbers.filter((number) => !known.has(number))).toEqual([]);
      after.close();
      expect(faults).toEqual([]);
      expect(asked).toBeGreaterThan(50);
      expect(resident).toBeLessThanOrEqual(MOST_RESIDENT);
      const [calm, beside] = [median(waited.calm), median(waited.attacked)];
      process.stdout.write(
        [
          `storm of ${SECONDS} s: ${done} done, ${refused} refused, ${KILLS} kills`,
          `guesser, flooder and bad importer: ${asked} requests, ${held} connections held, none answered with a fault`,
          `honest median ${calm.toFixed(1)} ms alone, ${beside.toFixed(1)} ms beside them: ${(beside / calm).toFixed(2)} times (at most 2)`,
          `most memory held by the server: ${Math.round(resident / 1024 / 1024)} MiB (at most ${MOST_RESIDENT / 1024 / 1024})`,
          '',
        ].join('\n'),
      );
    },
    SECONDS * 1000 + 600_000,
  );
});
