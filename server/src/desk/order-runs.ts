/**
 * The same done with many orders, one after the other: each in a transaction of its own together with the note of what became of
 * it, so that whatever is cut short, what was answered stands, the rest is untouched, and both are known.
 */
import { setImmediate as breathe } from 'node:timers/promises';
import { and, asc, desc, eq, sql } from 'drizzle-orm';
import { api, type BodyOf, type OrderAct, type OrderPreview, type OrderRun, type OrderRunView } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import { customer } from '../catalogue';
import { orEmpty } from '../platform/expressions';
import type { Binder } from '../platform/http';
import type { Commands } from '../platform/commands';
import { command, query } from '../platform/query';
import { addRow, fetching, setRow } from '../platform/rows';
import { user } from '../platform/schema';
import { personNow } from '../platform/who';
import { NOBODY, type Actor, type Work } from '../platform/work';
import { customerOrder } from '../selling';
import { doWith, isPrinting, papersFor, rightOf, titleOf, type PaperFor } from './order-acts';
import { orderRun, orderRunRow } from './schema';

type Asked = BodyOf<typeof api.selling.startRun>;
const SHOWN = 50;
/** So long nobody else waits behind what is looked at; then others have their turn. */
const TURN_MS = 40;
/** Orders that are kept by one commit: its log is synced once for all of them. */
const TOGETHER = 4;

const nameOf = query(
  ($: { id: number }) => (db) =>
    db
      .select({ number: customerOrder.number, customer: customer.name })
      .from(customerOrder)
      .innerJoin(customer, eq(customer.id, customerOrder.customerId))
      .where(eq(customerOrder.id, $.id)),
);
const DONE = sql<number>`coalesce(sum(${orderRunRow.state} = 'done'), 0)`;
const REFUSED = sql<number>`coalesce(sum(${orderRunRow.state} = 'refused'), 0)`;
const counted = {
  id: orderRun.id,
  act: orderRun.act,
  userId: orderRun.userId,
  who: orEmpty(user.name),
  at: orderRun.at,
  state: orderRun.state,
  total: sql<number>`count(*)`,
  done: DONE,
  refused: REFUSED,
};
const latest = query(
  () => (db) =>
    db
      .select(counted)
      .from(orderRun)
      .innerJoin(orderRunRow, eq(orderRunRow.runId, orderRun.id))
      .leftJoin(user, eq(user.id, orderRun.userId))
      .groupBy(orderRun.id)
      .orderBy(desc(orderRun.id))
      .limit(SHOWN),
);
const oneRun = query(
  ($: { id: number }) => (db) =>
    db
      .select(counted)
      .from(orderRun)
      .innerJoin(orderRunRow, eq(orderRunRow.runId, orderRun.id))
      .leftJoin(user, eq(user.id, orderRun.userId))
      .where(eq(orderRun.id, $.id))
      .groupBy(orderRun.id),
);
const rowsOf = query(
  ($: { id: number }) => (db) =>
    db
      .select({
        position: orderRunRow.position,
        id: orderRunRow.orderId,
        number: orEmpty(customerOrder.number),
        customer: orEmpty(customer.name),
        state: orderRunRow.state,
        words: orderRunRow.words,
      })
      .from(orderRunRow)
      .leftJoin(customerOrder, eq(customerOrder.id, orderRunRow.orderId))
      .leftJoin(customer, eq(customer.id, customerOrder.customerId))
      .where(eq(orderRunRow.runId, $.id))
      .orderBy(asc(orderRunRow.position)),
);
const noteRow = command(
  ($: { runId: number; position: number; state: 'done' | 'refused'; words: string }) => (db) =>
    db
      .update(orderRunRow)
      .set({ state: $.state, words: $.words })
      .where(and(eq(orderRunRow.runId, $.runId), eq(orderRunRow.position, $.position))),
);
const cutShort = command(() => (db) => db.update(orderRun).set({ state: 'cut' }).where(eq(orderRun.state, 'running')));
const runOf = fetching(orderRun, 'run');

const FAULT = 'Something went wrong with this one; the log of the server says what.';

/** What was refused, in words; what failed otherwise goes on. */
function refusedWords(error: unknown): string {
  if (error instanceof Refusal) return error.message;
  throw error;
}

export class OrderRuns {
  /** Runs that were asked to stop, and those that go on. */
  private readonly stopping = new Set<number>();
  private running: Promise<void> = Promise.resolve();
  private closed = false;

  constructor(
    private readonly commands: Commands,
    private readonly log: (message: string, about: object) => void,
  ) {
    // What a kill has cut short: what was done stands, and the rest is untouched.
    cutShort.run(commands);
  }

  async close(): Promise<void> {
    this.closed = true;
    await this.running;
  }

  /** What would become of each, by itself; nothing of it is kept. Others have their turn in between. */
  async preview(actor: Actor, { act, ids }: Asked): Promise<OrderPreview> {
    this.commands.look(actor).assertMay(rightOf(act));
    const rows: OrderPreview['rows'] = [];
    let since = performance.now();
    for (const id of new Set(ids)) {
      const { number = '', customer: name = '' } = nameOf.one(this.commands, { id }) ?? {};
      try {
        rows.push({ id, number, customer: name, can: true, words: await this.commands.tryOut(actor, (work) => doWith(work, act, id, true)) });
      } catch (error) {
        rows.push({ id, number, customer: name, can: false, words: refusedWords(error) });
      }
      if (performance.now() - since < TURN_MS) continue;
      await breathe();
      since = performance.now();
    }
    return { rows, can: rows.filter(({ can }) => can).length };
  }

  /** Begins; answers at once. */
  start(work: Work, { act, ids }: Asked): { id: number } {
    work.assertMay(rightOf(act));
    const id = addRow(work, orderRun, { act, userId: work.actor.id, at: work.now, state: 'running' });
    [...new Set(ids)].forEach((orderId, position) => addRow(work, orderRunRow, { runId: id, position, orderId, state: 'waiting', words: '' }));
    return { id };
  }

  /** Goes through a run that was begun; one after the other. */
  go(id: number): void {
    this.running = this.running.then(() => this.through(id)).catch((error: unknown) => this.log('a run over orders failed', { err: error, run: id }));
  }

  private async through(id: number): Promise<void> {
    const { act, userId, state } = runOf(this.commands.look(NOBODY), id);
    // Whoever lost the answer begins it once.
    if (state !== 'running') return;
    const rows = rowsOf.all(this.commands, { id }).filter(({ state }) => state === 'waiting');
    let ended: 'done' | 'stopped' = 'done';
    for (let at = 0; at < rows.length; at += TOGETHER) {
      // Whoever has lost the right, or is gone, does nothing more by it.
      const actor = personNow(this.commands.store, userId);
      if (this.closed) return;
      if (this.stopping.delete(id) || !actor?.grants.has(rightOf(act))) {
        ended = 'stopped';
        break;
      }
      await Promise.all(rows.slice(at, at + TOGETHER).map(({ position, id: orderId }) => this.one(actor, act, id, position, orderId)));
      await breathe();
    }
    await this.commands.performTogether(NOBODY, (work) => {
      setRow(work, orderRun, id, { state: ended });
      work.touch('orderRun', id, ended);
    });
  }

  private async one(actor: Actor, act: OrderAct, runId: number, position: number, orderId: number): Promise<void> {
    try {
      await this.commands.performTogether(actor, (work) => {
        noteRow.run(work, { runId, position, state: 'done', words: doWith(work, act, orderId) });
        work.touch('orderRun', runId, 'done');
      });
    } catch (error) {
      // A fault with one is told of it and does not keep the others waiting.
      if (!(error instanceof Refusal)) this.log('an order of a run failed', { err: error, run: runId, order: orderId });
      const words = error instanceof Refusal ? error.message : FAULT;
      await this.commands.performTogether(actor, (work) => {
        noteRow.run(work, { runId, position, state: 'refused', words });
        work.touch('orderRun', runId, 'refused');
      });
    }
  }

  /** Stops one after the order in hand. Refuses `notYours`, `wrongState`. */
  stop(work: Work, id: number): void {
    const run = runOf(work, id);
    if (run.userId !== work.actor.id) throw new Refusal('notYours', 'Who began it stops it.');
    if (run.state !== 'running') throw new Refusal('wrongState', 'It has ended already.');
    this.stopping.add(id);
  }
}

type Counted = ReturnType<typeof latest.all>[number];
const shown = (work: Work, { act, userId: _, ...run }: Counted): OrderRun => ({ ...run, title: titleOf(work, act), papers: isPrinting(act.act) });

/** The papers of a run that was for them, of the orders that it was done for. Refuses `notFound`, `nothingToPrint`. */
export function papersOfRun(work: Work, id: number): PaperFor[] {
  const { act } = runOf(work, id);
  const what = act.act;
  if (!isPrinting(what)) throw new Refusal('notFound', 'This was done for no papers.');
  const papers = rowsOf.all(work, { id }).flatMap((row) => (row.state === 'done' ? papersFor(work, what, row.id) : []));
  if (papers.length === 0) throw new Refusal('nothingToPrint', 'There is no paper among these.');
  return papers;
}

function runView(work: Work, id: number): OrderRunView {
  runOf(work, id);
  const [run] = oneRun.all(work, { id });
  if (!run) throw new Refusal('notFound', 'There is no such run.');
  return { ...shown(work, run), rows: rowsOf.all(work, { id }).map(({ position: _, ...row }) => row) };
}

function runHead(work: Work, id: number): OrderRun {
  const { rows: _, ...head } = runView(work, id);
  return head;
}

export function bindOrderRuns(binder: Binder, runs: OrderRuns): void {
  const { selling } = api;
  binder.task(selling.previewRun, (_commands, actor, { body }) => runs.preview(actor, body));
  binder.task(selling.startRun, async (commands, actor, { body }, once) => {
    const { id } = await commands.performTogether(actor, (work) => runs.start(work, body), once);
    runs.go(id);
    return runHead(commands.look(actor), id);
  });
  binder.read(selling.runs, (work) => latest.all(work).map((each) => shown(work, each)));
  binder.read(selling.getRun, (work, { params }) => runView(work, params.id));
  binder.change(
    selling.stopRun,
    (work, { params }) => runs.stop(work, params.id),
    (work, { params }) => runHead(work, params.id),
  );
}
