/** A small company on a temporary database, spoken to over HTTP like any client; for tests. */
import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { hash } from '@node-rs/argon2';
import { eq, getTableName } from 'drizzle-orm';
import { SQLiteTable } from 'drizzle-orm/sqlite-core';
import request from 'supertest';
import { expect } from 'vitest';
import {
  api,
  roles,
  standardRoles,
  type AnswerOf,
  type AnyRoute,
  type BodyIn,
  type ParamsOf,
  type ProblemDetails,
  type QueryIn,
  type Role,
} from '@terrace/contract';
import { CONTROL_ACCOUNTS } from '@terrace/core';
import { openTerrace, type Terrace } from '../app';
import { HOUSE_TAX, setUpGround, createCustomer, createItem, createSupplier, setBom, setTerm } from '../catalogue';
import { PLAN_FILE, setRule } from '../planning';
import { checkStore } from '../keeping/check';
import type { Eyes } from '../keeping/watchman';
import { grantsOfRole } from '../platform/grants';
import { DATABASE_FILE } from '../platform/database';
import { mayLoseTheLast } from '../platform/database-file';
import { keepSetting } from '../platform/settings';
import type { Actor } from '../platform/work';
import { addPerson, roleCalled, setUpRoles } from '../setup';
import * as schema from '../schema';
import { adjustStock } from '../stores';

export const TODAY = '2027-03-01';
export const migrationsFolder = fileURLToPath(new URL('../../migrations', import.meta.url));
/** Somebody with a standard role, for what is not asked over HTTP. */
export function somebody(role: Role, id = roles.indexOf(role) + 1): Actor {
  return { id, name: role, grants: grantsOfRole(role) };
}

/** Hashes a password so that it is checked as any other, yet at once: tests sign in a thousand times. */
const quickHash = (password: string): Promise<string> => hash(password, { memoryCost: 64, timeCost: 1, parallelism: 1 });

const WILDER = somebody('administrator');
/** What is written whenever somebody asks, or comes later. */
const NOT_PRINTED = new Set(['session', 'preference', 'mail', 'audit']);
let keys = 0;

export interface Call<R extends AnyRoute> {
  readonly params?: ParamsOf<R>;
  readonly query?: QueryIn<R>;
  readonly body?: BodyIn<R>;
  readonly key?: string;
}

/** Somebody who is signed in. */
export class Client {
  constructor(readonly agent: ReturnType<typeof request.agent>) {}

  private send(route: AnyRoute, call: Call<AnyRoute>): request.Test {
    const params = (call.params ?? {}) as Record<string, string | number>;
    const path = `/api${route.path.replace(/:(\w+)/g, (_, name: string) => String(params[name]))}`;
    const test = this.agent[route.method](path).query(call.query ?? {});
    if (route.method === 'get') return test;
    keys += 1;
    return test.set('Idempotency-Key', call.key ?? `test-key-${keys}`).send(call.body ?? {});
  }

  /** Calls a route that may do it or refuse. */
  async attempt<R extends AnyRoute>(route: R, call: Call<R> = {}): Promise<{ status: number; body: unknown }> {
    const answer = await this.send(route, call);
    return { status: answer.status, body: answer.body as unknown };
  }

  /** Calls a route that is expected to do it. */
  async call<R extends AnyRoute>(route: R, call: Call<R> = {}): Promise<AnswerOf<R>> {
    const answer = await this.send(route, call);
    expect(answer.status, JSON.stringify(answer.body)).toBe(200);
    return answer.body as AnswerOf<R>;
  }

  /** Calls a route that is expected to refuse. */
  async refused<R extends AnyRoute>(route: R, call: Record<string, unknown> = {}): Promise<ProblemDetails> {
    const answer = await this.send(route, call);
    expect(answer.status, JSON.stringify(answer.body)).toBeGreaterThanOrEqual(400);
    expect(answer.type).toBe('application/problem+json');
    return (typeof answer.body === 'object' && 'code' in answer.body ? answer.body : JSON.parse(answer.text)) as ProblemDetails;
  }
}

export interface Company {
  readonly terrace: Terrace;
  readonly folder: string;
  readonly as: (role: Role) => Promise<Client>;
  readonly id: (table: 'item' | 'customer' | 'supplier' | 'warehouse', code: string) => number;
  /** A print of every table, to see that nothing has changed; but of mail, whose attachments come later, and of the audit log. */
  readonly everything: () => string;
  /** Expects every check of the database to hold. */
  readonly sound: () => void;
  /** Lets the days go by. */
  readonly turnTo: (day: string) => void;
  readonly close: () => Promise<void>;
}

interface Opening {
  readonly proxies?: readonly string[];
  readonly eyes?: Eyes;
}

function openIn(folder: string, { proxies = [], eyes }: Opening, today: () => string): Terrace {
  const clock = { today, now: () => `${today()}T09:00:00.000Z` };
  const terrace = openTerrace(
    { port: 0, host: '127.0.0.1', dataFolder: folder, today: TODAY, logLevel: 'silent', proxies },
    { migrationsFolder, webFolder: null, clock, checkAnswers: true, planHere: true, ...(eyes ? { eyes } : {}) },
  );
  mayLoseTheLast(terrace.store);
  return terrace;
}

/** The company as it begins, file by file: it is set up once in each worker, and every test has a copy of its own. */
let begun: Promise<ReadonlyMap<string, Buffer>> | undefined;

async function setUpOnce(): Promise<ReadonlyMap<string, Buffer>> {
  const folder = mkdtempSync(join(tmpdir(), 'terrace-'));
  const terrace = openIn(folder, {}, () => TODAY);
  const passwordHash = await quickHash('secret');
  terrace.commands.perform(WILDER, (work) => {
    setUpRoles(work);
    for (const role of roles) {
      const roleId = roleCalled(work, standardRoles[role].name) ?? 0;
      addPerson(work, { login: role, name: role, email: '', roles: [{ roleId, warehouses: null }] }, passwordHash);
    }
  });
  fill(terrace);
  const stores = [
    [DATABASE_FILE, terrace.store],
    [PLAN_FILE, terrace.store.plan],
  ] as const;
  const files = new Map(stores.flatMap(([name, store]) => (store ? [[name, store.sqlite.serialize()] as const] : [])));
  await terrace.close();
  rmSync(folder, { recursive: true, force: true });
  return files;
}

/** Opens a company with a few items: FRAME is made from BAR and WIRE, SMOKER and STRIPS are bought. */
export async function openCompany(opening: Opening = {}): Promise<Company> {
  const folder = mkdtempSync(join(tmpdir(), 'terrace-'));
  for (const [name, content] of await (begun ??= setUpOnce())) writeFileSync(join(folder, name), content);
  let today = TODAY;
  const terrace = openIn(folder, opening, () => today);
  const { db } = terrace.store;
  const id: Company['id'] = (table, code) => {
    const from = schema[table];
    const row = db.select({ id: from.id }).from(from).where(eq(from.code, code)).get();
    if (!row) throw new Error(`there is no ${table} ${code}`);
    return row.id;
  };
  let reading: (readonly [name: string, rows: () => unknown])[] | undefined;
  const everything = (): string => {
    reading ??= Object.values(schema)
      .filter((each) => each instanceof SQLiteTable)
      .filter((table) => !NOT_PRINTED.has(getTableName(table)))
      .map((table) => {
        const all = db.select().from(table).prepare();
        return [getTableName(table), () => all.values()] as const;
      });
    return reading.map(([name, rows]) => `${name} ${createHash('sha256').update(JSON.stringify(rows())).digest('hex').slice(0, 12)}`).join('\n');
  };
  return {
    terrace,
    folder,
    id,
    everything,
    as: async (role) => {
      const agent = request.agent(terrace.app);
      const answer = await agent.post('/api/session').send({ login: role, password: 'secret' });
      expect(answer.status).toBe(200);
      return new Client(agent);
    },
    turnTo: (day) => {
      today = day;
    },
    sound: () => expect(checkStore(terrace.store, TODAY).filter((line) => !line.holds)).toEqual([]),
    close: async () => {
      await terrace.close();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

const ACCOUNTS = [...new Set([...Object.values(CONTROL_ACCOUNTS), '1400', '4000', '5000', '5400'])];

function fill({ commands }: Terrace): void {
  const { catalogue } = api;
  keepSetting(commands.store, HOUSE_TAX, 'FULL');
  commands.perform(WILDER, (work) => {
    setUpGround(work, {
      accounts: ACCOUNTS.map((code) => ({ code, name: `Account ${code}` })),
      units: [
        { code: 'each', name: 'each', decimals: 0 },
        { code: 'm', name: 'metre', decimals: 2 },
      ],
      calendars: [{ code: 'STD', workdays: [1, 2, 3, 4, 5], holidays: [], shifts: '' }],
      groups: [
        {
          code: 'ALL',
          name: 'All',
          parent: null,
          inventoryAccount: '1400',
          costOfSalesAccount: '5000',
          revenueAccount: '4000',
          defaults: {},
          planning: {},
        },
      ],
      currencies: [
        { code: 'EUR', name: 'Euro' },
        { code: 'GBP', name: 'Pound' },
      ],
      customerGroups: [{ code: 'SHOPS', name: 'Farm shops' }],
      paymentTerms: [],
      taxCodes: [{ code: 'FULL', name: 'Full rate', rate: 2000 }],
      reasons: [
        { code: 'OPENING', name: 'Opening stock', account: '3000', noteNeeded: false },
        { code: 'BREAKAGE', name: 'Breakage', account: '5400', noteNeeded: true },
      ],
      warehouses: [
        { code: 'WORKS', name: 'Works', calendar: 'STD', bins: ['A-01', 'DOCK'], dock: 'DOCK' },
        { code: 'DEPOT', name: 'Depot', calendar: 'STD', bins: ['F-01'], dock: 'F-01' },
      ],
    });
    createCustomer(
      work,
      catalogue.createCustomer.body.parse({
        code: 'HOLLIN',
        name: 'Hollin Lane Farm Shop',
        address: 'Hollin Lane 4',
        paymentDays: 14,
        taxRate: 2000,
      }),
    );
    const metal = createSupplier(
      work,
      catalogue.createSupplier.body.parse({
        code: 'METAL',
        name: 'Ironbeck Metalworks',
        address: '',
        email: 'sales@ironbeck.example',
        paymentDays: 30,
      }),
    );
    const item = (code: string, unit: string, sellPrice: string, barcodes: string[] = []): number =>
      createItem(
        work,
        catalogue.createItem.body.parse({
          code,
          description: `${code} for hives`,
          group: 'ALL',
          unit,
          barcodes: barcodes.map((barcode) => ({ barcode })),
          sellPrice,
        }),
      );
    const [frame, bar, wire, smoker] = [
      item('FRAME', 'each', '3.20', ['2000000000017']),
      item('BAR', 'each', '0.50'),
      item('WIRE', 'm', '0.12'),
      item('SMOKER', 'each', '36.00'),
    ];
    item('STRIPS', 'each', '31.00');
    for (const [id, price] of [
      [bar, '0.20'],
      [wire, '0.04'],
      [smoker, '17.80'],
    ] as const)
      setTerm(work, id, catalogue.setTerm.body.parse({ supplierId: metal, price, leadDays: 4 }));
    setBom(work, frame, {
      lines: [
        { componentId: bar, quantity: '4', scrap: '0', offsetDays: 0, validFrom: null, validTo: null },
        { componentId: wire, quantity: '2.4', scrap: '0.05', offsetDays: 0, validFrom: null, validTo: null },
      ],
    });
    const warehouseId = 1;
    setRule(work, frame, api.planning.setRule.body.parse({ warehouseId, source: 'make', leadDays: 2 }));
    for (const id of [bar, wire, smoker]) setRule(work, id, api.planning.setRule.body.parse({ warehouseId, source: 'buy', leadDays: 0 }));
    const open = (itemId: number, change: string, unitCost: string): { itemId: number; binId: number; change: string; unitCost: string } => ({
      itemId,
      binId: 1,
      change,
      unitCost,
    });
    adjustStock(work, {
      warehouseId,
      reason: 'OPENING',
      note: '',
      lines: [open(frame, '6', '1.20'), open(bar, '20', '0.20'), open(wire, '100', '0.04'), open(smoker, '10', '17.50')],
    });
  });
}
