import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { api, viewFilter, type PegView, type SuggestionRow } from '@terrace/contract';
import { PlanKeeper, plan } from '@terrace/core';
import { gatherProblem } from './planning';
import { openCompany, TODAY, type Client, type Company, somebody } from './testing/company';

const { planning, selling, stores, catalogue, buying, production, platform } = api;
let company: Company;
let manager: Client;
const id = (code: string): number => company.id('item', code);

beforeAll(async () => {
  company = await openCompany();
  manager = await company.as('manager');
});
afterAll(() => company.close());

/** Expects the plan that followed every change to say what planning everything now says. */
async function followed(): Promise<void> {
  await company.terrace.planner.settled();
  const store = company.terrace.store.plan?.sqlite;
  const kept = (): string[] =>
    (store?.prepare('select name, kind, quantity, place_by, due, days_late, pegs from suggestion where firm_id is null').all() ?? [])
      .map((row) => JSON.stringify(row))
      .sort();
  const exceptions = (): string[] =>
    (store?.prepare('select kind, subject, from_date, to_date, quantity from exception').all() ?? []).map((row) => JSON.stringify(row)).sort();
  const [suggested, excepted] = [kept(), exceptions()];
  const counted = store?.prepare('select suggestions, exceptions, endangered from plan_state').get();
  expect(counted).toEqual(
    store
      ?.prepare(
        `select (select count(*) from suggestion where ignored_until is null) as suggestions, (select count(*) from exception where kind <> 'placeLate') as exceptions,
           (select count(*) from promise where ready = '' or ready > wanted) as endangered`,
      )
      .get(),
  );
  await company.terrace.planner.whole();
  expect(suggested).toEqual(kept());
  expect(excepted).toEqual(exceptions());
  const work = company.terrace.commands.look(somebody('manager'));
  expect(plan(gatherProblem(work)).suggestions).toHaveLength(suggested.length);
}

const suggestions = async (): Promise<SuggestionRow[]> => (await manager.call(planning.listSuggestions)).rows;
const seq = async (): Promise<number> => (await manager.call(planning.getPlan)).seq;
const wish = (each: SuggestionRow | undefined) => ({ name: each?.id ?? '', seen: { quantity: each?.quantity ?? '', due: each?.due ?? '' } });
const order = async (code: string, quantity: string, requiredDate: string, warehouseId = 1) =>
  manager.call(selling.createOrder, {
    body: { customerId: 1, warehouseId, requiredDate, lines: [{ itemId: id(code), quantity }], confirm: true },
  });

describe('the plan that is kept', () => {
  it('follows orders, purchases, production, stock, rules and bills of materials', async () => {
    const first = await order('FRAME', '60', '2027-03-20');
    await followed();
    expect((await suggestions()).map((each) => `${each.kind} ${each.code}`).sort()).toEqual(['buy BAR', 'buy WIRE', 'make FRAME']);
    await order('SMOKER', '25', '2027-03-18');
    await followed();
    await manager.call(buying.createPurchase, {
      body: { supplierId: 1, warehouseId: 1, lines: [{ itemId: id('SMOKER'), quantity: '30', dueDate: '2027-03-25' }] },
    });
    await followed();
    const made = await manager.call(production.createProduction, {
      body: { itemId: id('FRAME'), warehouseId: 1, quantity: '20', dueDate: '2027-03-12' },
    });
    await followed();
    await manager.call(production.releaseProduction, { params: { id: made.id }, body: { version: made.version } });
    await manager.call(stores.adjust, { body: { warehouseId: 1, reason: 'OPENING', lines: [{ itemId: id('BAR'), binId: 1, change: '40' }] } });
    await followed();
    await manager.call(api.planning.setRule, {
      params: { id: id('BAR') },
      body: { warehouseId: 1, source: 'buy', leadDays: 3, safety: '25', lotSizing: { kind: 'fixed', quantity: '100' } },
    });
    await followed();
    await manager.call(catalogue.setBom, {
      params: { id: id('FRAME') },
      body: { lines: [{ componentId: id('BAR'), quantity: '3', scrap: '0', offsetDays: 0, validFrom: null, validTo: null }] },
    });
    await followed();
    const view = await manager.call(selling.getOrder, { params: { id: first.id } });
    await manager.call(selling.cancelOrder, { params: { id: first.id }, body: { version: view.version, reason: 'changed their mind' } });
    await followed();
  });

  it('tells what is new, gone and moved, and because of what', async () => {
    const before = await seq();
    const made = await order('FRAME', '70', '2027-03-22');
    const { rows } = await manager.call(planning.listDifferences, { query: { since: before } });
    const frame = rows.find((row) => row.code === 'FRAME');
    expect(frame).toMatchObject({ kind: 'make', change: expect.stringMatching(/new|changed|moved/) as string });
    expect(frame?.cause).toContain(made.number);
    expect(rows.every((row) => row.cause !== '')).toBe(true);
  });
});

describe('a suggestion', () => {
  it('is kept as it was changed, and every plan counts with it', async () => {
    const before = await suggestions();
    const frame = before.find((each) => each.code === 'FRAME' && each.kind === 'make');
    const figures = { kind: 'make' as const, quantity: '90', placeBy: '2027-03-08', due: '2027-03-15', note: 'one batch' };
    const kept = await manager.call(planning.keepSuggestion, { body: { ...figures, seq: await seq(), name: frame?.id ?? '' } });
    await followed();
    const after = await suggestions();
    expect(after.find((each) => each.id === kept.number)).toMatchObject({ quantity: '90', due: '2027-03-15', note: 'one batch' });
    const leftTo = (rows: readonly SuggestionRow[]): number => rows.filter((each) => each.code === 'FRAME' && each.firmId === null).length;
    expect(leftTo(after)).toBeLessThan(leftTo(before));
    const called = await manager.call(planning.getRecord, { params: { itemId: id('BAR'), warehouseId: 1 } });
    expect(called.events.find((event) => event.id === `${kept.number}/1`)).toMatchObject({ what: 'component', quantity: '-270', day: '2027-03-08' });
    const stale = { params: { id: kept.id }, body: { ...figures, version: 7 } };
    expect((await manager.refused(planning.changeFirm, stale)).code).toBe('staleVersion');
    await manager.call(planning.changeFirm, { params: { id: kept.id }, body: { ...figures, quantity: '95', version: 1 } });
    await followed();
    expect(
      (await manager.refused(planning.changeFirm, { params: { id: kept.id }, body: { ...figures, placeBy: '2027-03-20', version: 2 } })).details,
    ).toMatchObject({
      field: 'placeBy',
    });
    await manager.call(planning.dropFirm, { params: { id: kept.id } });
    await followed();
    expect((await suggestions()).some((each) => each.id === kept.number)).toBe(false);
  });

  it('is put aside until a day, and looked at again', async () => {
    const before = await suggestions();
    const body = { itemId: id('BAR'), warehouseId: 1, until: '2027-03-20', note: 'price talks' };
    await manager.call(planning.ignoreSuggestions, { body });
    expect((await suggestions()).some((each) => each.code === 'BAR')).toBe(false);
    const aside = await manager.call(planning.listSuggestions, { query: { ignored: 'only' } });
    expect(aside.rows.find((each) => each.code === 'BAR')).toMatchObject({ ignoredUntil: '2027-03-20', note: 'price talks' });
    expect((await manager.refused(planning.ignoreSuggestions, { body: { ...body, until: TODAY } })).code).toBe('badDate');
    await manager.call(planning.ignoreSuggestions, { body: { ...body, until: null } });
    expect(await suggestions()).toHaveLength(before.length);
  });

  it('is refused once the plan says otherwise, or it is released', async () => {
    const [each] = await suggestions();
    const body = { seq: await seq(), suggestions: [{ name: each?.id ?? '', seen: { quantity: '12345', due: each?.due ?? '' } }] };
    expect((await manager.refused(planning.release, { body })).code).toBe('staleVersion');
    const good = { seq: await seq(), suggestions: [{ name: each?.id ?? '', seen: { quantity: each?.quantity ?? '', due: each?.due ?? '' } }] };
    const both = await Promise.all(
      [manager.agent, manager.agent].map((agent, index) =>
        agent.post('/api/planning/release').set('Idempotency-Key', `release-${index}-twice`).send(good),
      ),
    );
    expect(both.map((answer) => answer.status).sort()).toEqual([200, 409]);
    await followed();
  });

  it('brings its levels along when it is released, and a transfer becomes a transfer', async () => {
    await manager.call(catalogue.setBom, {
      params: { id: id('SMOKER') },
      body: { lines: [{ componentId: id('FRAME'), quantity: '1', scrap: '0', offsetDays: 0, validFrom: null, validTo: null }] },
    });
    await manager.call(api.planning.setRule, { params: { id: id('SMOKER') }, body: { warehouseId: 1, source: 'make', leadDays: 1 } });
    await manager.call(api.planning.setRule, { params: { id: id('SMOKER') }, body: { warehouseId: 2, source: 'transfer', fromId: 1, leadDays: 2 } });
    await order('SMOKER', '200', '2027-04-15', 2);
    await followed();
    const all = await suggestions();
    const make = all.find((each) => each.code === 'SMOKER' && each.kind === 'make');
    const transfer = all.find((each) => each.code === 'SMOKER' && each.kind === 'transfer');
    expect(transfer).toMatchObject({ quantity: '200', from: 'WORKS', warehouse: 'DEPOT' });
    const preview = await manager.call(planning.previewRelease, {
      body: { seq: await seq(), withLevels: true, suggestions: [wish(make), wish(transfer)] },
    });
    const kinds = preview.documents.map((each) => `${each.kind} ${each.lines.map((line) => line.code).join()}`).sort();
    expect(kinds).toEqual(expect.arrayContaining(['productionOrder FRAME', 'productionOrder SMOKER', 'transfer SMOKER']));
    const { documents } = await manager.call(planning.release, { body: { seq: await seq(), suggestions: [wish(transfer)] } });
    expect(documents).toMatchObject([{ kind: 'transfer', number: 'TR-1001', partner: 'WORKS' }]);
    await followed();
  });
});

describe('what exists', () => {
  it('is moved or cancelled as the plan says, whoever has it is asked, and not twice', async () => {
    let purchase = await manager.call(buying.createPurchase, {
      body: { supplierId: 1, warehouseId: 1, lines: [{ itemId: id('WIRE'), quantity: '400', dueDate: '2027-06-25' }] },
    });
    purchase = await manager.call(buying.approvePurchase, { params: { id: purchase.id }, body: { version: purchase.version } });
    purchase = await manager.call(buying.sendPurchase, { params: { id: purchase.id }, body: { version: purchase.version } });
    await followed();
    const { rows } = await manager.call(planning.listExceptions);
    const mine = rows.find((row) => row.subject === `${purchase.number}/1`);
    expect(mine?.remedy).not.toBe('');
    const seen = { itemId: mine?.itemId ?? 0, to: mine?.to ?? null, quantity: mine?.quantity ?? '' };
    const body = { seq: await seq(), exceptions: [{ kind: mine?.kind ?? '', subject: mine?.subject ?? '', seen }] };
    const other = { ...body, exceptions: body.exceptions.map((each) => ({ ...each, seen: { ...seen, quantity: '399' } })) };
    expect(await manager.refused(planning.applyExceptions, { body: other })).toMatchObject({
      code: 'staleVersion',
      errors: [{ field: 'exceptions.0' }],
    });
    const { done } = await manager.call(planning.applyExceptions, { body });
    expect(done).toHaveLength(1);
    await followed();
    expect((await manager.refused(planning.applyExceptions, { body })).code).toBe('staleVersion');
    const { rows: mails } = await manager.call(platform.outbox);
    expect(mails[0]).toMatchObject({ subject: `Change of our order ${purchase.number}` });
    expect((await manager.call(planning.listExceptions)).rows.some((row) => row.subject === mine?.subject)).toBe(false);
  });
});

describe('looking into the plan', () => {
  it('shows what endangers a promise, all that must happen for an order, and whom a supply serves', async () => {
    const late = await order('FRAME', '500', '2027-03-03');
    await followed();
    const { rows } = await manager.call(planning.listEndangered);
    const mine = rows.find((row) => row.number === late.number);
    expect(mine).toMatchObject({ code: 'FRAME', wanted: '2027-03-03', id: `${late.number}/1` });
    expect(mine?.ready === null || (mine?.ready ?? '') > '2027-03-03').toBe(true);
    // The list is narrowed and sorted like every other.
    const narrowed = await manager.call(planning.listEndangered, { query: { find: `${late.number} frame`, sort: '-daysLate' } });
    expect(narrowed.rows.map((row) => row.id)).toEqual([mine?.id]);
    expect((await manager.call(planning.listEndangered, { query: { find: 'nobody of this name' } })).total).toBe(0);
    const chart = await manager.call(planning.getOrderChart, { params: { id: late.id } });
    const kinds = (pegs: readonly PegView[]): string[] => pegs.flatMap((peg) => [`${peg.kind} ${peg.code}`, ...kinds(peg.below)]);
    expect(kinds(chart.lines[0]?.served ?? [])).toEqual(expect.arrayContaining(['suggestion FRAME', 'suggestion BAR']));
    const needed = await manager.call(planning.listSuggestions, { query: { order: late.id } });
    expect(needed.rows.map((each) => each.code)).toEqual(expect.arrayContaining(['FRAME', 'BAR']));
    expect(needed.rows.some((each) => each.code === 'STRIPS')).toBe(false);
    expect(needed.total).toBeLessThan((await suggestions()).length);
    const view = await manager.call(selling.getOrder, { params: { id: late.id } });
    expect(view.planned).toEqual({ ready: mine?.ready ?? null, endangered: true });
    const book = await manager.call(selling.listOrders, { query: { find: late.number } });
    expect(book.rows).toMatchObject([{ number: late.number, endangered: true }]);
    // What is in danger comes first among what is open, and has a view of its own.
    const body = { customerId: 1, warehouseId: 1, requiredDate: '2027-06-30', confirm: true, beyondCredit: true };
    const calm = await manager.call(selling.createOrder, { body: { ...body, lines: [{ itemId: company.id('item', 'SMOKER'), quantity: '1' }] } });
    const open = await manager.call(selling.listOrders, { query: { filter: JSON.stringify(viewFilter('orders', 'open')) } });
    expect(open.rows.findIndex(({ endangered }) => !endangered)).toBeGreaterThan(0);
    expect(open.rows.map(({ endangered }) => endangered)).toEqual(
      [...open.rows.map(({ endangered }) => endangered)].sort((a, b) => Number(b) - Number(a)),
    );
    const danger = await manager.call(selling.listOrders, { query: { filter: JSON.stringify(viewFilter('orders', 'danger')) } });
    expect(danger.rows.map(({ number }) => number)).toContain(late.number);
    expect(danger.rows.map(({ number }) => number)).not.toContain(calm.number);
    const all = await manager.call(selling.listOrders, {});
    expect(all.rows[0]?.number).toBe(calm.number);
    const bar = (await suggestions()).find((each) => each.code === 'BAR' && each.firmId === null);
    const { served } = await manager.call(planning.getServed, { query: { kind: 'suggestion', id: bar?.id ?? '' } });
    const ids = (pegs: readonly PegView[]): string[] => pegs.flatMap((peg) => [peg.id, ...ids(peg.below)]);
    expect(ids(served).some((each) => each.startsWith('CO-'))).toBe(true);
    const paper = await manager.agent.get(`/api/papers/orderChart/${late.id}`).buffer(true);
    expect(paper.headers['content-type']).toBe('application/pdf');
    company.sound();
  });

  it('says when a quantity could be there if it were ordered now, by what chain, and changes nothing', async () => {
    const before = company.everything();
    const rows = await suggestions();
    const query = { itemId: id('FRAME'), warehouseId: 1, quantity: '5000', wanted: '2027-03-03' };
    const { ready, chain } = await manager.call(planning.getCapable, { query });
    expect(ready !== null && ready > '2027-03-03').toBe(true);
    expect(chain.map((each) => each.code)).toEqual(['FRAME', 'BAR']);
    expect(chain[0]?.ready).toBe(ready);
    expect((await manager.call(planning.getCapable, { query: { ...query, quantity: '1', wanted: '2027-07-30' } })).ready).toBe('2027-07-30');
    expect((await manager.refused(planning.getCapable, { query: { ...query, quantity: '0.5' } })).code).toBe('tooFine');
    expect(await suggestions()).toEqual(rows);
    expect(company.everything()).toBe(before);
    await followed();
  });

  it('keeps a computed safety stock with what it follows from', async () => {
    const item = await manager.call(api.planning.setRule, {
      params: { id: id('BAR') },
      body: { warehouseId: 1, source: 'buy', leadDays: 4, safetyBy: { by: 'service', level: '0.95' } },
    });
    const [rule] = item.rules;
    expect(rule?.safetyWords).toContain('1.64 deviations for 0.95');
    const refused = await manager.refused(api.planning.setRule, {
      params: { id: id('BAR') },
      body: { warehouseId: 1, source: 'buy', leadDays: 4, safetyBy: { by: 'service', level: '1' } },
    });
    expect(refused.details).toMatchObject({ field: 'safetyBy' });
    expect(
      (await manager.refused(api.planning.setRule, { params: { id: id('BAR') }, body: { warehouseId: 1, source: 'transfer', leadDays: 1 } })).code,
    ).toBe('sameWarehouse');
  });

  it('keeps the same plan when told row by row as when told at once', () => {
    const work = company.terrace.commands.look(somebody('manager'));
    const problem = gatherProblem(work);
    const keeper = new PlanKeeper({ ...problem, receipts: [], demands: [] });
    const byDocument = new Map<string, { receipts: (typeof problem.receipts)[number][]; demands: (typeof problem.demands)[number][] }>();
    const of = (rowId: string) => {
      const name = rowId.includes('/') ? rowId.slice(0, rowId.lastIndexOf('/')) : rowId;
      const known = byDocument.get(name) ?? { receipts: [], demands: [] };
      byDocument.set(name, known);
      return known;
    };
    for (const row of problem.receipts) of(row.id).receipts.push(row);
    for (const row of problem.demands) of(row.id).demands.push(row);
    for (const [name, rows] of byDocument) keeper.tellDocument(name, rows);
    keeper.live.catchUp();
    const whole = new PlanKeeper(problem);
    for (const node of whole.live.graph.order) expect(keeper.live.outcome(node).suggestions).toEqual(whole.live.outcome(node).suggestions);
  });
});

describe('a forecast', () => {
  const place = (): { itemId: number; warehouseId: number } => ({ itemId: id('STRIPS'), warehouseId: 1 });
  const months = (quantity: (month: number) => number): { start: string; quantity: string }[] =>
    Array.from({ length: 36 }, (_, back) => {
      const month = 2027 * 12 + 1 - back;
      return { start: `${Math.floor(month / 12)}-${String((month % 12) + 1).padStart(2, '0')}-01`, quantity: String(quantity(month % 12)) };
    });

  it('follows the seasons of the past, marks what does not belong, and is counted by the plan beside orders', async () => {
    const past = months((month) => (month >= 3 && month <= 7 ? 60 : 20));
    await manager.call(planning.keepPastDemand, {
      params: place(),
      body: { months: past.map((each, index) => (index === 10 ? { ...each, quantity: '900' } : each)) },
    });
    const view = await manager.call(planning.computeForecast, { body: place() });
    expect(view.history).toHaveLength(36);
    expect(view.history.filter((each) => each.outlier).map((each) => each.quantity)).toEqual(['900']);
    const of = (month: string): number => Number(view.figures.find((each) => each.start.slice(5, 7) === month)?.computed);
    expect(of('05')).toBeGreaterThan(45);
    expect(of('10')).toBeLessThan(30);
    expect(view.errors.length).toBeGreaterThan(4);
    expect(view.errors[0]?.method).toBe(view.method);
    await manager.call(api.planning.setRule, {
      params: { id: id('STRIPS') },
      body: { warehouseId: 1, source: 'buy', leadDays: 5, demand: 'consume', consumeBack: 30, consumeForward: 30 },
    });
    await followed();
    const all = (await suggestions()).filter((each) => each.code === 'STRIPS').reduce((sum, each) => sum + Number(each.quantity), 0);
    const forecast = view.figures.slice(0, 6).reduce((sum, each) => sum + Number(each.computed), 0);
    expect(all).toBeGreaterThan(0.8 * forecast);
    const strip = await manager.call(stores.strip, { query: { item: id('STRIPS'), warehouse: 1 } });
    const planned = strip.events.map((event) => Number(event.planned));
    expect(planned.length).toBeGreaterThan(8);
    expect(planned.at(-1)).toBeLessThan(0.5 * forecast);
    await order('STRIPS', '12', '2027-04-20');
    await followed();
    const again = (await suggestions()).filter((each) => each.code === 'STRIPS').reduce((sum, each) => sum + Number(each.quantity), 0);
    expect(again).toBe(all);
  });

  it('keeps what somebody typed over it, and refuses what it can not hold', async () => {
    const figure = { ...place(), start: '2027-05-01' };
    await manager.call(planning.typeForecast, { params: figure, body: { typed: '200', note: 'fair' } });
    await followed();
    const view = await manager.call(planning.computeForecast, { body: place() });
    expect(view.figures.find((each) => each.start === '2027-05-01')).toMatchObject({ typed: '200', note: 'fair' });
    expect((await manager.refused(planning.typeForecast, { params: figure, body: { typed: '1.5' } })).code).toBe('tooFine');
    expect((await manager.refused(planning.typeForecast, { params: { ...figure, start: '2037-05-01' }, body: { typed: '1' } })).code).toBe(
      'notFound',
    );
    expect((await manager.refused(planning.computeForecast, { body: { ...place(), itemId: id('WIRE'), method: 'seasonalAverage' } })).code).toBe(
      'tooShort',
    );
    const weekly = await manager.call(planning.computeForecast, { body: { ...place(), referenceId: id('STRIPS'), factor: '0.5' } });
    expect(weekly.reference).toEqual({ itemId: id('STRIPS'), code: 'STRIPS', factor: '0.5' });
    expect(Number(weekly.history[5]?.quantity) * 2).toBeCloseTo(Number(view.history[5]?.quantity), 0);
  });

  it('is only what was typed where that is wanted, and remembers whether outliers count', async () => {
    const wire = { itemId: id('WIRE'), warehouseId: 1 };
    const empty = await manager.call(planning.computeForecast, { body: { ...wire, method: 'manual', leaveOutliers: false } });
    expect(empty.figures.map((each) => each.computed)).toEqual(Array.from({ length: 12 }, () => '0'));
    expect(empty.errors).toEqual([]);
    const figure = { ...wire, start: empty.figures[2]?.start ?? '' };
    const view = await manager.call(planning.typeForecast, { params: figure, body: { typed: '44', note: 'the fair' } });
    expect(view).toMatchObject({ method: 'manual', asked: 'manual', leaveOutliers: false });
    expect(view.figures[2]).toMatchObject({ typed: '44', note: 'the fair' });
    await followed();
    const counting = await manager.call(planning.computeForecast, { body: { ...place(), leaveOutliers: false } });
    expect(counting.leaveOutliers).toBe(false);
    const leaving = await manager.call(planning.computeForecast, { body: place() });
    expect(leaving.figures.map((each) => each.computed)).not.toEqual(counting.figures.map((each) => each.computed));
  });

  it('of all items is made anew while others work, and can be stopped', async () => {
    const begun = await manager.call(planning.runForecasts);
    expect(begun).toMatchObject({ running: true, all: 2 });
    await expect.poll(async () => (await manager.call(planning.getForecastJob)).running, { timeout: 20_000 }).toBe(false);
    expect(await manager.call(planning.getForecastJob)).toMatchObject({ done: 2, failed: 0 });
    expect((await manager.call(planning.listForecasts)).rows).toMatchObject([
      { code: 'STRIPS', typed: 1, counted: 'consume' },
      { code: 'WIRE', typed: 1, method: 'typed figures only' },
    ]);
    expect(await manager.call(planning.stopForecasts)).toMatchObject({ running: false });
    await followed();
  });
});
