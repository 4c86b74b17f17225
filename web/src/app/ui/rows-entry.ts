/** Rows of something small, such as units: each is typed and saved by itself, and a new one beneath them. */
import { effect, signal, untracked } from '@angular/core';
import type { Observable } from 'rxjs';
import type { AnyRoute } from '@terrace/contract';
import { disabled, entryOf, type Entry } from './forms';

export interface Rows<Row extends object> {
  /** By code. */
  readonly rows: Readonly<Record<string, Row>>;
  readonly fresh: Row;
}

export interface RowsEntry<Row extends object> {
  readonly entry: Entry<Rows<Row>>;
  /** Says which row somebody is in; nothing for the new one. */
  enter(code: string | null): void;
  /** Whether a row is typed and not saved. */
  differs(code: string): boolean;
  save(code: string | null): void;
}

/** `G` is what is kept: it has the rows, and comes anew with each answer. */
export interface RowsOptions<Row extends object, B, G> {
  readonly part: string;
  readonly ground: () => G | null;
  readonly rows: (ground: G) => Readonly<Record<string, Row>>;
  readonly empty: Row;
  readonly route: AnyRoute;
  /** What is sent of a row; the new one has no code. */
  readonly body: (row: Row, code: string | null) => B;
  /** Where a place of what is sent stands in a row, if it is called otherwise there. */
  readonly place?: (place: string) => string;
  /** Whether rows can only be read. */
  readonly off?: () => boolean;
  readonly send: (body: B) => Observable<G>;
  readonly done: (ground: G) => void;
}

/** To be called where things can be injected. */
export function rowsEntry<Row extends object, B, G>(options: RowsOptions<Row, B, G>): RowsEntry<Row> {
  const { part, ground, rows, empty, route, body, send, done, place = (same) => same, off = () => false } = options;
  /** The row in hand, whose rules are said; nothing for the new one. */
  const at = signal<string | null | undefined>(undefined);
  const draft = signal<Rows<Row>>({ rows: {}, fresh: empty });
  const base = signal<Rows<Row>>({ rows: {}, fresh: empty });
  const rowAt = (all: Rows<Row>, code: string | null): Row => (code === null ? all.fresh : (all.rows[code] ?? empty));
  const entry = entryOf<Rows<Row>>({
    part: () => part,
    draft,
    route: () => (at() === undefined ? null : route),
    body: (all) => body(rowAt(all, at() ?? null), at() ?? null),
    place: (sent) => `${at() === null || at() === undefined ? 'fresh' : `rows.${at() ?? ''}`}.${place(sent)}`,
    shape: (path) => disabled(path, off),
  });
  let begun = false;
  effect(() => {
    const kept = ground();
    if (!kept) return;
    untracked(() => {
      const fresh = { rows: rows(kept), fresh: empty };
      base.set(fresh);
      if (begun) entry.onto(fresh);
      else entry.begin(fresh);
      begun = true;
    });
  });
  return {
    entry,
    enter: (code) => at.set(code),
    differs: (code) => JSON.stringify(draft().rows[code]) !== JSON.stringify(base().rows[code]),
    save: (code) => {
      at.set(code);
      entry.send(
        send(body(rowAt(untracked(draft), code), code)),
        (answer) => {
          // What was saved is not typed any more; the other rows are as they were.
          draft.update((all) => (code === null ? { ...all, fresh: empty } : { ...all, rows: { ...all.rows, [code]: rowAt(untracked(base), code) } }));
          at.set(undefined);
          done(answer);
        },
        'part',
      );
    },
  };
}

/** Rows by what they are called. */
export function byCode<T, Row>(all: readonly T[], codeOf: (each: T) => string, rowOf: (each: T) => Row): Readonly<Record<string, Row>> {
  return Object.fromEntries(all.map((each) => [codeOf(each), rowOf(each)]));
}
