/**
 * Every command that the contract knows, with whatever its schema allows, in any order: each is done whole or refused
 * whole, none fails. What people do on purpose, with the stock counted beside, is in any-day.spec.ts.
 */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { api, type AnyRoute } from '@terrace/contract';
import { plan } from '@terrace/core';
import { gatherProblem } from './planning';
import { openCompany, type Call, type Company, somebody } from './testing/company';
import { Chooser, begun, valueOf } from './testing/made-up';

/** Not sent here, and why. */
const LEFT_OUT: Readonly<Record<string, string>> = {
  'platform.signIn': 'has no key and is refused after ten attempts: sessions are tested in rights.spec.ts',
  'platform.signOut': 'ends what everything else here needs',
  'accounts.closeBooks': 'closes the days that everything else here is posted on: day.spec.ts',
  'planning.runForecasts': 'goes on in a thread after it has been answered: planning.spec.ts',
  'selling.startRun': 'goes on after it has been answered: order-runs.spec.ts',
  'setup.writeArchive': 'is done in a thread of its own: demo/src/archive.spec.ts',
  'setup.backUpNow': 'is done in a thread of its own: keeping/keeper.spec.ts',
  'setup.tryMail': 'asks a mail server: mail.spec.ts',
  'setup.runSchedule': 'is done in threads of its own: schedules.spec.ts',
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

const planned = (company: Company): number => plan(gatherProblem(company.terrace.commands.look(somebody('administrator')))).suggestions.length;

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
          // As it was before the next one: what is refused leaves it so.
          let before = '';
          for (const name of sent) {
            const route = ROUTES.get(name);
            if (!route) continue;
            const params = Object.fromEntries(
              [...route.path.matchAll(/:(\w+)/g)].map(([, param = '']) => [param, param === 'start' ? '2027-03-01' : 1 + choose.below(4)]),
            );
            const call = { params, body: valueOf(route.body, choose) } as Call<AnyRoute>;
            if (before === '') before = company.everything();
            const { status, body } = await administrator.attempt(route, call);
            const what = `${name} ${JSON.stringify(call)}: ${JSON.stringify(body).slice(0, 300)}`;
            if (status === 200) {
              done.add(name);
              before = '';
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
  }, 300_000);
});
