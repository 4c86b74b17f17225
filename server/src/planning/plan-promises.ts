/** When each order line can be served, as the plan's file keeps it. */
import type Sqlite from 'better-sqlite3';
import { dateOf, type Arrival } from '@terrace/core';

interface Kept {
  readonly demand: string;
  readonly wanted: string;
  readonly ready: string;
  readonly cause: string;
}

/** Writes when each order line can be served; says whether that differs from before. */
export function writePromises(file: Sqlite.Database, promises: ReadonlyMap<string, Arrival>): boolean {
  const write = (): boolean => {
    const known = new Map((file.prepare('select demand, wanted, ready, cause from promise').all() as Kept[]).map((each) => [each.demand, each]));
    const put = file.prepare('insert or replace into promise (demand, wanted, ready, cause) values (?, ?, ?, ?)');
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
      put.run(demand, wanted, ready, cause);
      changed = true;
    }
    const endangered = [...promises.values()].filter((each) => each.ready === null || each.ready > each.wanted).length;
    file.prepare('update plan_state set endangered = ?').run(endangered);
    const drop = file.prepare('delete from promise where demand = ?');
    for (const demand of known.keys()) drop.run(demand);
    return changed || known.size > 0;
  };
  return file.transaction(write).immediate();
}
