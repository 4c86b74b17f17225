/** Takes the rows of a file one record after the other, each for itself; says what became of each. */
import { Refusal, ownOf, type CellHabits } from '@terrace/core';
import type { ImportRow, Outcome } from '@terrace/contract';
import { onItsOwn } from '../platform/database-file';
import type { Change, Work } from '../platform/work';
import { Row, type FileColumn, type FileKind, type Taken } from './kind';
import type { Sheet } from './read-file';

export interface Mapping {
  /** Heading → column. */
  readonly columns: Readonly<Record<string, string>>;
  readonly habits: CellHabits;
}

export interface Report {
  readonly counts: Readonly<Record<Outcome, number>>;
  readonly rows: readonly ImportRow[];
}

/** Undoes a record of which nothing changed, so that neither version nor history moves. */
class Unchanged extends Error {
  constructor(readonly taken: Taken) {
    super('nothing changed');
  }
}

/** Stops a run; nothing of it stays. */
export class Stopped extends Error {
  constructor() {
    super('stopped');
    this.name = 'Stopped';
  }
}

const STEP = 250;

function words(changes: readonly Change[]): string {
  return changes.map(({ field, from, to }) => `${field}: ${from === '' ? '—' : from} → ${to === '' ? '—' : to}`).join('; ');
}

/** Rows as records read them, those of one record together in the order of their first. */
export function recordsOf(kind: FileKind, columns: readonly FileColumn[], sheet: Sheet, mapping: Mapping): Row[][] {
  const byKey = new Map(columns.map((column) => [column.key, column]));
  const places = sheet.headings.map((heading) => ownOf(mapping.columns, heading) ?? '');
  const rows = sheet.rows.map(({ number, cells }) => {
    const values: Record<string, string> = {};
    places.forEach((key, index) => {
      const cell = cells[index] ?? '';
      if (key !== '' && cell !== '') values[key] = cell;
    });
    return new Row(number, values, mapping.habits, byKey);
  });
  if (!kind.together) return rows.map((row) => [row]);
  const groups = new Map<string, Row[]>();
  for (const row of rows) {
    const key = keyOf(kind, row);
    const group = groups.get(key);
    if (group) group.push(row);
    else groups.set(key, [row]);
  }
  return [...groups.values()];
}

function keyOf(kind: FileKind, row: Row): string {
  try {
    return kind.together?.(row) ?? '';
  } catch (error) {
    // What can't be read stands alone, and says so when it is taken.
    if (error instanceof Refusal) return `row ${row.number}`;
    throw error;
  }
}

/** Takes all records within the running transaction, each in a savepoint of its own. */
export function takeRecords(
  work: Work,
  kind: FileKind,
  records: readonly (readonly Row[])[],
  source: string,
  goOn: (done: number) => boolean,
): Report {
  const counts = { added: 0, changed: 0, same: 0, refused: 0 };
  const report: ImportRow[] = [];
  const takeOne = (rows: readonly Row[]): Taken =>
    onItsOwn(work.store, () => {
      const taken = kind.take(work, rows, source);
      if (taken.outcome === 'same') throw new Unchanged(taken);
      return taken;
    });
  const columns = new Set(kind.columns(work).map(({ key }) => key));
  // What is refused deep in a document is read from one cell of the row.
  const columnOf = (field: unknown): string =>
    typeof field === 'string' ? ([field, field.split('.').at(-1) ?? ''].find((key) => columns.has(key)) ?? '') : '';
  let done = 0;
  for (const rows of records) {
    if (done % STEP === 0 && !goOn(done)) throw new Stopped();
    done += 1;
    work.events.length = 0;
    const note = (outcome: Outcome, name: string, what: string, field: string): void => {
      counts[outcome] += rows.length;
      if (outcome !== 'same') for (const row of rows) report.push({ row: row.number, outcome, name, what, field });
    };
    try {
      const formula = rows.find((row) => row.formula !== '');
      if (formula)
        throw new Refusal('formula', 'The cell holds a formula, and formulas are not worked out here: paste its value.', { field: formula.formula });
      const taken = takeOne(rows);
      note(taken.outcome, taken.name, taken.outcome === 'added' ? '' : words(taken.changes), '');
    } catch (error) {
      if (error instanceof Unchanged) note('same', error.taken.name, '', '');
      else if (error instanceof Refusal) note('refused', rows[0]?.name ?? '', error.message, columnOf(error.details['field']));
      else throw error;
    }
  }
  goOn(done);
  return { counts, rows: report };
}
