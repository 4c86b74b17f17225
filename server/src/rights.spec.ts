import request from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, rightsOf, roles, type AnyRoute, type Role } from '@terrace/contract';
import { openCompany, type Client, type Company } from './testing/company';

let company: Company;
let people: Map<Role, Client>;
let before: string;

beforeAll(async () => {
  company = await openCompany();
  people = new Map(await Promise.all(roles.map(async (role) => [role, await company.as(role)] as const)));
  before = company.everything();
});
afterAll(() => company.close());

const ROUTES = Object.values(api).flatMap((room) =>
  Object.entries(room as Readonly<Record<string, AnyRoute>>).map(([name, route]) => ({ name, route })),
);
/** An address as it would be asked for, with a number that may or may not be there. */
const addressOf = (route: AnyRoute): string => `/api${route.path.replace(/:\w+/g, '1')}`;

describe('every route', () => {
  // Who is not signed in may sign out: there is nothing to end.
  it.each(ROUTES.filter(({ name, route }) => route.right !== 'public' && name !== 'signOut'))(
    '$name is closed to who is not signed in',
    async ({ route }) => {
      const answer = await request(company.terrace.app)[route.method](addressOf(route)).set('Idempotency-Key', 'nobody-asks').send({});
      expect([answer.status, (answer.body as { code: string }).code]).toEqual([401, 'notSignedIn']);
      expect(answer.type).toBe('application/problem+json');
    },
  );

  it.each(ROUTES.filter(({ route }) => route.right !== 'public' && route.right !== 'signedIn'))(
    '$name is closed to every role that lacks its right, and says so before it reads anything',
    async ({ name, route }) => {
      const without = roles.filter((role) => !rightsOf(role).some((right) => right === route.right));
      for (const role of without) {
        const problem = await people.get(role)?.refused(route, { params: paramsOf(route), body: { nonsense: [name] } });
        expect([role, problem?.status, problem?.code]).toEqual([role, 403, 'notAllowed']);
      }
    },
  );

  it('of all these has changed anything', () => {
    expect(company.everything()).toBe(before);
  });

  it('that changes something takes a key, and refuses nonsense without doing half of it', async () => {
    const administrator = people.get('administrator');
    for (const { name, route } of ROUTES.filter((each) => each.route.method !== 'get' && each.route.right !== 'public' && each.name !== 'signOut')) {
      const answer = await administrator?.agent[route.method](addressOf(route)).send({});
      expect([name, answer?.status, (answer?.body as { code: string }).code]).toEqual([name, 422, 'noKey']);
      if (!('shape' in route.body) || Object.keys(route.body.shape as object).length === 0) continue;
      const problem = await administrator?.refused(route, { params: paramsOf(route), body: { version: 'latest', lines: 'all', id: {} } });
      expect([name, problem !== undefined && problem.status < 500, problem?.detail !== '']).toEqual([name, true, true]);
    }
    expect(company.everything()).toBe(before);
  });
});

function paramsOf(route: AnyRoute): Readonly<Record<string, string>> {
  return Object.fromEntries([...route.path.matchAll(/:(\w+)/g)].map(([, name]) => [name ?? '', '1']));
}
