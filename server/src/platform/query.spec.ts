/** Statements on tables of their own: what is said is what is asked, values go in and come out by their columns. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { eq, exists, sql } from 'drizzle-orm';
import { integer, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import fc from 'fast-check';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { closeFile, makeTables, onItsOwn } from './database-file';
import { openFile, type Store } from './database';
import { among, countOf, inner } from './expressions';
import { command, query } from './query';
import { addRow, changeRow, dropRow, fetching, setRow } from './rows';

const crate = sqliteTable('crate', {
  id: integer().primaryKey(),
  label: text().notNull(),
  sealed: integer({ mode: 'boolean' }).notNull().default(false),
  marks: text({ mode: 'json' }).$type<string[]>().notNull(),
  version: integer().notNull().default(1),
});
const jar = sqliteTable('jar', { id: integer().primaryKey(), crateId: integer('crate_id').notNull() });

const folder = mkdtempSync(join(tmpdir(), 'terrace-query-'));
const stores: Store[] = [];
let source: { store: Store };
beforeEach(() => {
  const store = openFile(join(folder, `${stores.length}.db`));
  makeTables(store, [crate, jar]);
  stores.push(store);
  source = { store };
});
afterAll(() => {
  stores.forEach(closeFile);
  rmSync(folder, { recursive: true, force: true });
});
const filled = (label: string, marks: string[] = []): number => addRow(source, crate, { label, marks });

const labelled = query(($: { label: string }) => (db) => db.select().from(crate).where(eq(crate.label, $.label)));
const withJars = query(
  () => (db) =>
    db
      .select({ label: crate.label })
      .from(crate)
      .where(
        exists(
          inner
            .select({ one: sql`1` })
            .from(jar)
            .where(eq(jar.crateId, crate.id)),
        ),
      ),
);
const counted = query(
  () => (db) =>
    db
      .select({ label: crate.label, jars: countOf(jar, eq(jar.crateId, crate.id)) })
      .from(crate)
      .orderBy(crate.id),
);
const oneOf = query(($: { labels: readonly string[] }) => (db) => db.select({ id: crate.id }).from(crate).where(among(crate.label, $.labels)));
const dropLabelled = command(($: { label: string }) => (db) => db.delete(crate).where(eq(crate.label, $.label)));

describe('a query', () => {
  it('decodes what its columns hold, and gives the first or nothing', () => {
    const id = filled('A', ['fragile']);
    setRow(source, crate, id, { sealed: true });
    expect(labelled.all(source, { label: 'A' })).toEqual([{ id, label: 'A', sealed: true, marks: ['fragile'], version: 1 }]);
    expect(labelled.one(source, { label: 'none' })).toBeUndefined();
    expect([...labelled.each(source, { label: 'A' })]).toHaveLength(1);
  });

  it('compares a column of the table around it with the one within, where both have one table only', () => {
    const [full] = [filled('full'), filled('empty')];
    addRow(source, jar, { crateId: full ?? 0 });
    addRow(source, jar, { crateId: full ?? 0 });
    expect(withJars.all(source)).toEqual([{ label: 'full' }]);
    expect(counted.all(source)).toEqual([
      { label: 'full', jars: 2 },
      { label: 'empty', jars: 0 },
    ]);
  });

  it('takes any text as a value, never as part of itself', () => {
    fc.assert(
      fc.property(fc.string(), (label) => {
        const id = filled(label);
        expect(labelled.all(source, { label }).map((each) => each.id)).toEqual([id]);
        dropRow(source, crate, id);
      }),
    );
  });

  it('takes a list of any length as one value', () => {
    const ids = ['A', 'B', 'C'].map((label) => filled(label));
    expect(oneOf.all(source, { labels: ['A', 'C', 'Z'] }).map((each) => each.id)).toEqual([ids[0], ids[2]]);
    expect(oneOf.all(source, { labels: [] })).toEqual([]);
  });

  it('refuses to be asked without one of its values, naming it', () => {
    expect(() => labelled.all(source, {} as { label: string })).toThrow(/no value for "label"/);
  });

  it('is made ready for each file by itself', () => {
    filled('only here');
    const other = openFile(join(folder, 'other.db'));
    stores.push(other);
    makeTables(other, [crate, jar]);
    expect(labelled.all({ store: other }, { label: 'only here' })).toEqual([]);
    expect(labelled.all(source, { label: 'only here' })).toHaveLength(1);
  });
});

describe('rows', () => {
  it('are fetched or refused, and raise their version only when they are changed', () => {
    const id = filled('A');
    const crateOf = fetching(crate, 'crate');
    setRow(source, crate, id, { label: 'B' });
    expect(crateOf(source as never, id)).toMatchObject({ label: 'B', version: 1 });
    changeRow(source, crate, id, { label: 'C' });
    expect(crateOf(source as never, id)).toMatchObject({ label: 'C', version: 2 });
    expect(dropLabelled.run(source, { label: 'C' }).changes).toBe(1);
    expect(() => crateOf(source as never, id)).toThrow(/crate/);
  });

  it('of what throws on its own are as they were, and the rest stays', () => {
    onItsOwn(source.store, () => {
      filled('kept');
      expect(() =>
        onItsOwn(source.store, () => {
          filled('not kept');
          throw new Error('no');
        }),
      ).toThrow('no');
    });
    expect(counted.all(source).map((each) => each.label)).toEqual(['kept']);
  });
});
