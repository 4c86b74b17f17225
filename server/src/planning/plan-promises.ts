/** When each order line can be served, as the plan's file keeps it. */
import { eq } from 'drizzle-orm';
import { dateOf, type Arrival } from '@terrace/core';
import { atOnce } from '../platform/database-file';
import type { Store } from '../platform/database';
import { command, query } from '../platform/query';
import { inserted } from '../platform/expressions';
import { planState, promise } from './plan-schema';

const kept = query(() => (db) => db.select().from(promise));
const put = command(
  ($: typeof promise.$inferInsert) => (db) =>
    db
      .insert(promise)
      .values({ demand: $.demand, wanted: $.wanted, ready: $.ready, cause: $.cause })
      .onConflictDoUpdate({
        target: promise.demand,
        set: { wanted: inserted(promise.wanted), ready: inserted(promise.ready), cause: inserted(promise.cause) },
      }),
);
const drop = command(($: { demand: string }) => (db) => db.delete(promise).where(eq(promise.demand, $.demand)));
const count = command(($: { endangered: number }) => (db) => db.update(planState).set({ endangered: $.endangered }));

/** Writes when each order line can be served; says whether that differs from before. */
export function writePromises(file: Store, promises: ReadonlyMap<string, Arrival>): boolean {
  const source = { store: file };
  const write = (): boolean => {
    const known = new Map(kept.all(source).map((each) => [each.demand, each]));
    let changed = false;
    const dates = new Map<number, string>();
    const date = (day: number): string => {
      const written = dates.get(day) ?? dateOf(day);
      dates.set(day, written);
      return written;
    };
    for (const [demand, arrival] of promises) {
      const [wanted, ready, { cause }] = [date(arrival.wanted), arrival.ready === null ? '' : date(arrival.ready), arrival];
      const before = known.get(demand);
      known.delete(demand);
      if (before?.ready === ready && before.cause === cause && before.wanted === wanted) continue;
      put.run(source, { demand, wanted, ready, cause });
      changed = true;
    }
    count.run(source, { endangered: [...promises.values()].filter((each) => each.ready === null || each.ready > each.wanted).length });
    for (const demand of known.keys()) drop.run(source, { demand });
    return changed || known.size > 0;
  };
  return atOnce(file, write);
}
