import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, type OrderView, type ProblemDetails } from '@terrace/contract';
import { openCompany, type Client, type Company } from './testing/company';

let company: Company;
beforeAll(async () => {
  company = await openCompany();
});
afterAll(() => company.close());

describe('many at once', () => {
  it('20 clients race for the last 10 pieces: 10 are sold, nobody twice, the others hear who holds them', async () => {
    const clients: Client[] = [];
    for (let count = 0; count < 20; count += 1) clients.push(await company.as('manager'));
    const drafts = await Promise.all(
      clients.map((client) =>
        client.call(api.selling.createOrder, {
          body: { customerId: 1, warehouseId: 1, requiredDate: '2027-03-05', lines: [{ itemId: company.id('item', 'SMOKER'), quantity: '1' }] },
        }),
      ),
    );
    const answers = await Promise.all(
      clients.map((client, index) =>
        client.agent
          .post(`/api/selling/orders/${drafts[index]?.id ?? 0}/confirm`)
          .set('Idempotency-Key', `race-${index}-key`)
          .send({ version: 1, allOrNothing: true }),
      ),
    );
    const won = answers.filter((answer) => answer.status === 200).map((answer) => (answer.body as OrderView).number);
    const lost = answers.filter((answer) => answer.status === 409).map((answer) => JSON.parse(answer.text) as ProblemDetails);
    expect([won.length, new Set(won).size, lost.length]).toEqual([10, 10, 10]);
    for (const problem of lost) {
      expect(problem.code).toBe('heldByOthers');
      const holders = (problem.details?.['holders'] as { document: string }[]).map((each) => each.document);
      expect(holders.length).toBe(10);
      expect(won).toEqual(expect.arrayContaining(holders));
    }
    company.sound();
  });

  it('two who change the same order: one is kept, the other is told', async () => {
    const [one, two] = [await company.as('manager'), await company.as('sales')];
    const body = { customerId: 1, warehouseId: 1, requiredDate: '2027-03-05', lines: [{ itemId: company.id('item', 'FRAME'), quantity: '1' }] };
    const made = await one.call(api.selling.createOrder, { body });
    const change = (client: Client, reference: string) =>
      client.agent
        .put(`/api/selling/orders/${made.id}`)
        .set('Idempotency-Key', `change-by-${reference}`)
        .send({ ...body, reference, version: made.version });
    const answers = await Promise.all([change(one, 'one'), change(two, 'two')]);
    expect(answers.map((answer) => answer.status).sort()).toEqual([200, 409]);
  });
});
