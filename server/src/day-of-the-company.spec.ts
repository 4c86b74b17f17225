/** The day is the company's, wherever the machine stands: on the main thread and in every thread beside it. */
import { rmSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import request from 'supertest';
import { openTerrace, type Terrace } from './app';
import { dayIn } from './platform/clock';
import { keepSetting } from './platform/settings';
import { Client, migrationsFolder, openCompany, type Company } from './testing/company';

// At any moment one of the two has another day than the machine, whatever zone that is in.
const ZONES = ['Pacific/Kiritimati', 'Pacific/Pago_Pago'];
const zone = (): string => ZONES.find((each) => dayIn(each, new Date()) !== dayIn(null, new Date())) ?? 'none';

let company: Company;
let terrace: Terrace;
let manager: Client;
let chosen: string;

beforeAll(async () => {
  chosen = zone();
  company = await openCompany();
  keepSetting(company.terrace.store, 'timeZone', chosen);
  await company.terrace.close();
  terrace = openTerrace(
    { port: 0, host: '127.0.0.1', dataFolder: company.folder, today: null, logLevel: 'silent', proxies: [] },
    { migrationsFolder, webFolder: null, checkAnswers: true },
  );
  const agent = request.agent(terrace.app);
  expect((await agent.post('/api/session').send({ login: 'manager', password: 'secret' })).status).toBe(200);
  manager = new Client(agent);
});
afterAll(async () => {
  await terrace.close();
  rmSync(company.folder, { recursive: true, force: true });
});

describe('the day', () => {
  it('of the plan, of a copy of it and of whoever looks is the company’s', async () => {
    const here = (): string => dayIn(chosen, new Date());
    const before = here();
    expect(before).not.toBe(dayIn(null, new Date()));
    await terrace.planner.settled();
    const { today } = (terrace.store.plan?.sqlite.prepare('select today from plan_state').get() ?? {}) as { today?: string };
    const copy = await manager.call(api.planning.getPlanCopy);
    const session = await manager.call(api.platform.getSession);
    // It may turn while this runs.
    for (const day of [today, copy.problem.today, session.today]) expect([before, here()]).toContain(day);
  });
});
