/**
 * Every command that the contract knows, with whatever its schema allows, in any order: each is done whole or refused
 * whole, none fails. What people do on purpose, with the stock counted beside, is in any-day.spec.ts.
 */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { api, type AnyRoute } from '@terrace/contract';
import { plan } from '@terrace/core';
import type { z } from 'zod';
import { gatherProblem } from './planning';
import { openCompany, TODAY, type Call, type Client, type Company } from './testing/company';

/** Not sent here, and why. */
const LEFT_OUT: Readonly<Record<string, string>> = {
  'platform.signIn': 'has no key and is refused after ten attempts: sessions are tested in rights.spec.ts',
  'platform.signOut': 'ends what everything else here needs',
  'accounts.closeBooks': 'closes the days that everything else here is posted on: day.spec.ts',
  'planning.runForecasts': 'goes on in a thread after it has been answered: planning.spec.ts',
  'bulk.tryImport': 'needs a file that was sent: imports.spec.ts',
  'bulk.takeImport': 'needs a file that was sent: imports.spec.ts',
};

const COMMANDS = Object.entries(api).flatMap(([room, routes]) =>
  Object.entries(routes as Readonly<Record<string, AnyRoute>>)
    .filter(([, route]) => route.method !== 'get')
    .map(([name, route]) => ({ name: `${room}.${name}`, route })),
);
const SENT = COMMANDS.filter(({ name }) => !(name in LEFT_OUT));
const ROUTES = new Map(SENT.map(({ name, route }) => [name, route]));

/** Texts and numbers of which some please every field; what a schema refuses is not sent. */
const TEXTS = [
  '1', '2', '0.5', '3.25', '0', '12', '-1', TODAY, '2027-03-09', '2027-06-30', '2026-12-01', 'SMOKER', 'BAR', 'FRAME', 'WORKS', 'DEPOT', 'each', 'ALL',
  'STD', 'METAL', 'BREAKAGE', 'FULL', 'a word', 'KG', 'PO-1001/1', 'CO-1001/1', '',
]; // prettier-ignore
const NUMBERS = [1, 2, 3, 4, 0, 7, 30, 5, 12, 0.5, -1];

/** Takes one choice after the other; the same choices make the same value. */
class Chooser {
  private at = 0;
  constructor(private readonly choices: readonly number[]) {}

  below(most: number): number {
    const choice = this.choices[this.at % this.choices.length] ?? 0;
    this.at += 1;
    return choice % most;
  }
}

interface Def {
  readonly type: string;
  readonly innerType?: z.ZodType;
  readonly element?: z.ZodType;
  readonly shape?: Readonly<Record<string, z.ZodType>>;
  readonly options?: readonly z.ZodType[];
  readonly items?: readonly z.ZodType[];
  readonly entries?: Readonly<Record<string, string>>;
  readonly values?: readonly unknown[];
  readonly in?: z.ZodType;
  readonly valueType?: z.ZodType;
}

/** Something that a schema takes, as it would be sent. */
function valueOf(schema: z.ZodType, choose: Chooser): unknown {
  const def = (schema as unknown as { def: Def }).def;
  const among = (candidates: readonly unknown[]): unknown => {
    const good = candidates.filter((each) => schema.safeParse(each).success);
    return (good.length === 0 ? candidates : good)[choose.below(Math.max(1, good.length || candidates.length))];
  };
  switch (def.type) {
    case 'object':
      return Object.fromEntries(
        Object.entries(def.shape ?? {}).map(([name, field]) => [name, name === 'version' ? 1 + choose.below(3) : valueOf(field, choose)]),
      );
    case 'array':
      return Array.from({ length: 1 + choose.below(2) }, () => valueOf(def.element as z.ZodType, choose));
    case 'tuple':
      return (def.items ?? []).map((item) => valueOf(item, choose));
    case 'record':
      return {};
    case 'optional':
    case 'default':
      return choose.below(3) === 0 ? undefined : valueOf(def.innerType as z.ZodType, choose);
    case 'nullable':
      return choose.below(3) === 0 ? null : valueOf(def.innerType as z.ZodType, choose);
    case 'readonly':
      return valueOf(def.innerType as z.ZodType, choose);
    case 'pipe':
      return valueOf(def.in as z.ZodType, choose);
    case 'union':
      return valueOf(def.options?.[choose.below(def.options.length)] as z.ZodType, choose);
    case 'enum':
      return Object.values(def.entries ?? {})[choose.below(Object.keys(def.entries ?? {}).length)];
    case 'literal':
      return def.values?.[0];
    case 'boolean':
      return choose.below(2) === 0;
    case 'number':
      return among(NUMBERS);
    case 'unknown':
    case 'any':
      return 'anything';
    default:
      return among(TEXTS);
  }
}

/** Some of everything, so that what is done by number finds something. */
async function begun(company: Company, manager: Client): Promise<void> {
  const { selling, buying, production, dispatch, stores } = api;
  const smoker = company.id('item', 'SMOKER');
  const lines = [
    { itemId: smoker, quantity: '2' },
    { itemId: company.id('item', 'BAR'), quantity: '3' },
  ];
  const order = await manager.call(selling.createOrder, {
    body: { customerId: 1, warehouseId: 1, requiredDate: '2027-03-09', lines, confirm: true },
  });
  await manager.call(selling.createOrder, { body: { customerId: 1, warehouseId: 1, requiredDate: '2027-03-19', lines } });
  const shipment = await manager.call(dispatch.createShipment, { body: { orderId: order.id } });
  const picked = await manager.call(dispatch.startPicking, { params: { id: shipment.id }, body: { version: shipment.version } });
  await manager.call(dispatch.ship, { params: { id: shipment.id }, body: { version: picked.version } });
  const invoice = await manager.call(selling.invoiceOrder, { params: { id: order.id }, body: {} });
  await manager.call(api.accounts.payInvoice, { params: { id: invoice.id }, body: { amount: '5.00', method: 'cash' } });
  const bought = await manager.call(buying.createPurchase, {
    body: { supplierId: 1, warehouseId: 1, lines: [{ itemId: smoker, quantity: '12', price: '1.37', dueDate: '2027-03-09' }] },
  });
  const approved = await manager.call(buying.approvePurchase, { params: { id: bought.id }, body: { version: bought.version } });
  const sent = await manager.call(buying.sendPurchase, { params: { id: bought.id }, body: { version: approved.version } });
  const [line] = sent.lines;
  const receipt = { version: sent.version, binId: 1, lines: [{ lineId: line?.id ?? 0, quantity: '4' }] };
  await manager.call(buying.receive, { params: { id: bought.id }, body: receipt });
  await manager.call(production.createProduction, {
    body: { itemId: company.id('item', 'FRAME'), warehouseId: 1, quantity: '2', dueDate: '2027-03-10' },
  });
  await manager.call(stores.requestTransfer, {
    body: { fromId: 1, toId: 2, shipDate: TODAY, dueDate: '2027-03-04', lines: [{ itemId: smoker, quantity: '1' }] },
  });
  await manager.call(stores.adjust, {
    body: { warehouseId: 1, reason: 'BREAKAGE', note: 'fell', lines: [{ itemId: smoker, binId: 1, change: '-1' }] },
  });
}

const planned = (company: Company): number =>
  plan(gatherProblem(company.terrace.commands.look({ id: 1, name: 'administrator', role: 'administrator' }))).suggestions.length;

describe('every command of the contract', () => {
  it('is sent, or it is said why not', () => {
    const names = new Set(COMMANDS.map(({ name }) => name));
    expect(Object.keys(LEFT_OUT).filter((name) => !names.has(name))).toEqual([]);
    expect(SENT.length + Object.keys(LEFT_OUT).length).toBe(COMMANDS.length);
    // Whatever the contract gains is sent from that day on: its body only has to be one that can be made up.
    const choose = new Chooser([0]);
    for (const { name, route } of SENT) expect([name, route.body.safeParse(valueOf(route.body, choose)).error?.issues[0]?.path]).toBeDefined();
  });

  it('is done whole or refused whole, and the books and the plan are right after all of them', async () => {
    const done = new Set<string>();
    let refused = 0;
    const steps = fc.shuffledSubarray([...ROUTES.keys()], { minLength: ROUTES.size });
    const choices = fc.array(fc.nat({ max: 1_000_000 }), { minLength: 400, maxLength: 400 });
    await fc.assert(
      fc.asyncProperty(steps, choices, async (sent, chosen) => {
        const company = await openCompany();
        try {
          const administrator = await company.as('administrator');
          await begun(company, administrator);
          const choose = new Chooser(chosen);
          for (const name of sent) {
            const route = ROUTES.get(name);
            if (!route) continue;
            const params = Object.fromEntries(
              [...route.path.matchAll(/:(\w+)/g)].map(([, param = '']) => [param, param === 'start' ? '2027-03-01' : 1 + choose.below(4)]),
            );
            const call = { params, body: valueOf(route.body, choose) } as Call<AnyRoute>;
            const before = company.everything();
            const { status, body } = await administrator.attempt(route, call);
            const what = `${name} ${JSON.stringify(call)}: ${JSON.stringify(body).slice(0, 300)}`;
            if (status === 200) {
              done.add(name);
              continue;
            }
            refused += 1;
            expect(status, what).toBeGreaterThanOrEqual(400);
            expect(status, what).toBeLessThan(500);
            expect((body as { detail: string }).detail, what).toMatch(/\w/);
            expect(company.everything(), what).toBe(before);
          }
          company.sound();
          // What was left behind can be planned.
          expect(planned(company)).toBeGreaterThanOrEqual(0);
        } finally {
          await company.close();
        }
      }),
      { numRuns: 8, endOnFailure: true },
    );
    // Both happen, so that neither is left untried; how many of them is chance.
    expect(done.size).toBeGreaterThan(8);
    expect(refused).toBeGreaterThan(100);
  });
});
