import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { PASSWORD, buildDemo } from '@terrace/demo';
import { copyDemo, DEMO_TODAY } from '../../scripts/lib/demo.mjs';
import { sessionOf, untilUp } from '../../scripts/lib/up.mjs';

const root = fileURLToPath(new URL('../..', import.meta.url));
const bundle = join(root, 'dist/terrace.js');
const example = join(root, 'core/src/planning/examples/plan-levels.json');
const TODAY = DEMO_TODAY;
const PORT = 4390;
let folder: string;

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'terrace-command-'));
  copyDemo(join(folder, 'data'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const settings = () => ({
  ...process.env,
  TERRACE_DATA: join(folder, 'data'),
  TERRACE_TODAY: TODAY,
  TERRACE_PORT: String(PORT),
  TERRACE_LOG: 'silent',
});
const terrace = (args: readonly string[], input = '') => spawnSync(process.execPath, [bundle, ...args], { env: settings(), input, encoding: 'utf8' });

async function signIn(): Promise<string> {
  const answer = await fetch(`http://127.0.0.1:${PORT}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ login: 'maren', password: PASSWORD }),
  });
  return sessionOf(answer);
}

describe('compute plan', () => {
  const { problem, result } = JSON.parse(readFileSync(example, 'utf8')) as { problem: object; result: object };

  it('reads one problem and writes its result; with --lines, one a line', () => {
    expect(JSON.parse(terrace(['compute', 'plan'], JSON.stringify(problem)).stdout)).toEqual(result);
    const lines = terrace(['compute', 'plan', '--lines'], `${JSON.stringify(problem)}\n${JSON.stringify(problem)}\n`)
      .stdout.trim()
      .split('\n');
    expect(lines.map((line) => JSON.parse(line) as object)).toEqual([result, result]);
  });

  it('ends with 2 and says where, for what is no problem at all', () => {
    const ended = (input: string): [number | null, string] => {
      const { status, stderr } = terrace(['compute', 'plan'], input);
      return [status, stderr];
    };
    expect(ended('{')).toEqual([2, expect.stringContaining('not JSON') as string]);
    expect(ended('{}')).toEqual([2, expect.stringContaining('today') as string]);
    expect(ended(JSON.stringify({ ...problem, calendars: [{ code: 'STD', workdays: [], holidays: [] }] }))).toEqual([
      2,
      expect.stringContaining('no working days') as string,
    ]);
    expect(ended(JSON.stringify({ ...problem, warehouses: [{ code: 'A', calendar: 'NONE' }] }))).toEqual([
      2,
      expect.stringContaining('NONE') as string,
    ]);
    expect(terrace(['compute', 'weather']).status).toBe(2);
    expect(terrace(['dance']).status).toBe(2);
  });
});

describe('compute cost and forecast', () => {
  it('value moves, and end with 2 naming the move that can’t be', () => {
    const moves = [
      { id: '1', kind: 'in', quantity: '10', amount: '42.00' },
      { id: '2', kind: 'out', quantity: '3' },
    ];
    const problem = { method: 'fifo', currencyDecimals: 2, moves };
    const { stdout } = terrace(['compute', 'cost'], JSON.stringify(problem));
    expect(JSON.parse(stdout)).toEqual({
      moves: [
        { id: '1', value: '42.00', variance: '0.00' },
        { id: '2', value: '12.60', variance: '0.00' },
      ],
      quantity: '7',
      value: '29.40',
      layers: [{ of: '1', quantity: '7', value: '29.40' }],
    });
    const lines = `${JSON.stringify(problem)}\n${JSON.stringify({ ...problem, moves: [...moves, { id: 'x9', kind: 'out', quantity: '8' }] })}\n`;
    const refused = terrace(['compute', 'cost', '--lines'], lines);
    expect([refused.status, refused.stderr]).toEqual([2, expect.stringContaining('line 2: move x9') as string]);
  });

  it('forecast a history', () => {
    const history = Array.from({ length: 24 }, (_, at) => String(20 + (at % 4)));
    const { stdout } = terrace(['compute', 'forecast'], JSON.stringify({ history, season: 4, periods: 4, method: 'best' }));
    const { forecast, errors } = JSON.parse(stdout) as { forecast: number[]; errors: object };
    expect(forecast.map(Math.round)).toEqual([20, 21, 22, 23]);
    expect(Object.keys(errors)).toContain('croston');
    expect(terrace(['compute', 'forecast'], '{}').status).toBe(2);
  });
});

describe('the demo company', () => {
  it('is sound, and the same every time', async () => {
    const { status, stdout } = terrace(['check']);
    expect([status, stdout]).toEqual([0, expect.stringContaining('all is well') as string]);
    await buildDemo(join(folder, 'again'), join(root, 'server/migrations'), TODAY);
    const print = (data: string): string => {
      const { stdout: text } = spawnSync(
        process.execPath,
        [
          '-e',
          `const d=new(require('better-sqlite3'))(${JSON.stringify(join(folder, data, 'terrace.db'))},{readonly:true});console.log(JSON.stringify(['customer_order','stock_move','journal_line','plan_firm','forecast_figure','reservation','history'].map(t=>d.prepare('select * from '+t).all())))`,
        ],
        { cwd: root, encoding: 'utf8', maxBuffer: 1e9 },
      );
      return text;
    };
    expect(print('again') === print('data') && print('data').length > 10_000).toBe(true);
  });
});

describe('a data folder', () => {
  const at = (data: string, args: readonly string[]) =>
    spawnSync(process.execPath, [bundle, ...args], { env: { ...settings(), TERRACE_DATA: data, TERRACE_PORT: String(PORT + 1) }, encoding: 'utf8' });

  it('that is mistyped is not made into one by looking at it', () => {
    const nowhere = join(folder, 'mistyped');
    for (const args of [['check'], ['backup', join(folder, 'none.backup')]]) {
      const { status, stderr } = at(nowhere, args);
      expect([status, stderr]).toEqual([1, expect.stringMatching(/no company in .*mistyped/) as string]);
    }
    expect([existsSync(nowhere), existsSync(join(folder, 'none.backup'))]).toEqual([false, false]);
    expect(terrace(['check']).stdout).toContain(`Larkmoor Apiary Works, in ${join(folder, 'data')}`);
  });

  it('is one server’s at a time; nothing is restored, migrated or built over one that runs', async () => {
    const server = spawn(process.execPath, [bundle, 'serve'], { env: settings(), stdio: 'ignore' });
    try {
      await untilUp(`http://127.0.0.1:${PORT}`, server);
      const file = join(folder, 'while-it-runs.backup');
      expect(terrace(['backup', file]).status).toBe(0);
      for (const args of [['serve'], ['restore', file], ['migrate'], ['demo', '--reset']]) {
        const { status, stderr } = at(join(folder, 'data'), args);
        expect([args, status, stderr]).toEqual([args, 1, expect.stringMatching(/in use: the server \(process \d+\)/) as string]);
      }
    } finally {
      const ended = new Promise((done) => server.once('exit', done));
      server.kill('SIGKILL');
      await ended;
    }
    // A lock does not outlive who held it.
    expect(terrace(['migrate']).status).toBe(0);
  });

  it('has its plan made anew by the thread that keeps it, with a line in the log that says so, and one of each refusal that says whose', async () => {
    const data = join(folder, 'data');
    const plan = join(data, 'plan.db');
    writeFileSync(plan, 'no database at all, however long it is'.repeat(500));
    let log = '';
    const server = spawn(process.execPath, [bundle, 'serve'], { env: { ...settings(), TERRACE_LOG: 'info' }, stdio: ['ignore', 'pipe', 'inherit'] });
    server.stdout.on('data', (text: Buffer) => (log += text.toString()));
    const ended = new Promise((done) => server.once('exit', done));
    try {
      await untilUp(`http://127.0.0.1:${PORT}`, server);
      const cookie = await signIn();
      const suggestions = async (): Promise<[number, number]> => {
        const answer = await fetch(`http://127.0.0.1:${PORT}/api/planning/suggestions`, { headers: { cookie } });
        return [answer.status, ((await answer.json()) as { total?: number }).total ?? 0];
      };
      const planned = async (): Promise<number> => {
        for (;;) {
          const [status, total] = await suggestions();
          expect([200, 503]).toContain(status);
          if (status === 200 && total > 0) return total;
          await new Promise((done) => setTimeout(done, 50));
        }
      };
      const before = await planned();
      expect(log).toContain('is damaged and is made anew');
      log = '';
      // Under the server's own hands.
      for (const file of [plan, `${plan}-wal`]) writeFileSync(file, Buffer.alloc(statSync(file).size, 0x55), { flag: 'r+' });
      const refused = await fetch(`http://127.0.0.1:${PORT}/api/audit`, { headers: { cookie } });
      expect(refused.status).toBe(403);
      const order = { customerId: 1, warehouseId: 1, requiredDate: '2027-03-05', lines: [{ itemId: 31, quantity: '1' }] };
      const made = await fetch(`http://127.0.0.1:${PORT}/api/selling/orders`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', cookie, 'idempotency-key': 'while-planning-anew' },
        body: JSON.stringify(order),
      });
      expect(made.status).toBe(200);
      while (!log.includes('is damaged and is made anew')) {
        await suggestions();
        await new Promise((done) => setTimeout(done, 50));
      }
      expect(await planned()).toBeGreaterThanOrEqual(before - 1);
      const lines = log
        .split('\n')
        .filter((line) => line.startsWith('{'))
        .map((line) => JSON.parse(line) as Record<string, unknown>);
      expect(lines.find((line) => line['url'] === '/api/audit')).toMatchObject({
        user: 1,
        address: '127.0.0.1',
        method: 'GET',
        status: 403,
        outcome: 'notAllowed',
      });
      expect(lines.find((line) => line['url'] === '/api/selling/orders')).toMatchObject({ user: 1, status: 200, outcome: 'done' });
    } finally {
      server.kill('SIGTERM');
      await ended;
    }
  });

  it('has the old company or the new one whenever a restore is killed', async () => {
    const [file, into] = [join(folder, 'killed.backup'), join(folder, 'restored')];
    expect(terrace(['backup', file]).status).toBe(0);
    expect(at(into, ['restore', file]).status).toBe(0);
    let killed = 0;
    for (let wait = 300; killed < 4 && wait < 4000; wait += 350) {
      const restoring = spawn(process.execPath, [bundle, 'restore', file], { env: { ...settings(), TERRACE_DATA: into }, stdio: 'ignore' });
      const ended = new Promise<number | null>((done) => restoring.once('exit', done));
      setTimeout(() => restoring.kill('SIGKILL'), wait);
      if ((await ended) === null) killed += 1;
      const { status, stdout } = at(into, ['check']);
      expect([wait, status, stdout]).toEqual([wait, 0, expect.stringContaining('all is well') as string]);
    }
    expect(killed).toBeGreaterThan(0);
  });
});

describe('killed in the middle of the work', () => {
  let server: ChildProcess | null = null;
  afterAll(() => server?.kill('SIGKILL'));

  async function start(): Promise<void> {
    server = spawn(process.execPath, [bundle, 'serve'], { env: settings(), stdio: 'ignore' });
    await untilUp(`http://127.0.0.1:${PORT}`, server);
  }

  it('keeps every order that was answered "confirmed", and nothing half done', async () => {
    await start();
    const cookie = await signIn();
    const confirmed: string[] = [];
    let sent = 0;
    const client = async (number: number): Promise<void> => {
      for (let round = 0; ; round += 1) {
        sent += 1;
        const answer = await fetch(`http://127.0.0.1:${PORT}/api/selling/orders`, {
          method: 'POST',
          headers: { 'content-type': 'application/json', cookie, 'idempotency-key': `kill-${number}-${round}-key` },
          body: JSON.stringify({
            customerId: 1,
            warehouseId: 1,
            requiredDate: '2027-03-05',
            confirm: true,
            lines: [{ itemId: 31 + (round % 4), quantity: '1' }],
          }),
        });
        const order = (await answer.json()) as { number: string; state: string };
        if (order.state === 'confirmed') confirmed.push(order.number);
      }
    };
    const clients = Array.from({ length: 20 }, (_, number) => client(number).catch(() => undefined));
    // In the middle of the load, however fast the machine is.
    while (confirmed.length < 60) await new Promise((done) => setTimeout(done, 20));
    server?.kill('SIGKILL');
    await Promise.all(clients);
    expect(confirmed.length).toBeGreaterThanOrEqual(60);
    expect(sent).toBeGreaterThan(confirmed.length);
    const { status, stdout } = terrace(['check']);
    expect(stdout).toContain('all is well');
    expect(status).toBe(0);
    await start();
    const list = await fetch(`http://127.0.0.1:${PORT}/api/selling/orders?limit=1000&sort=-number`, { headers: { cookie: await signIn() } });
    const { rows } = (await list.json()) as { rows: { number: string; state: string }[] };
    const kept = new Map(rows.map((row) => [row.number, row.state]));
    for (const number of confirmed.slice(-900)) expect(kept.get(number), number).toBe('confirmed');
    server?.kill('SIGTERM');
  });
});
