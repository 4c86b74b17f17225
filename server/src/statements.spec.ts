/** Everything that is said to the database, made ready at once: a statement that can't be fails here, not when somebody needs it. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { sql } from 'drizzle-orm';
import { afterAll, expect, it, vi } from 'vitest';

const folder = mkdtempSync(join(tmpdir(), 'terrace-statements-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

it('every query and command can be made ready, and one that could not be would be named', async () => {
  // Other tests say statements about tables of their own: what Terrace says is counted in modules that they do not share.
  vi.resetModules();
  const { prepareEverything, query } = await import('./platform/query');
  const { registerRooms } = await import('./rooms');
  const { openStore } = await import('./platform/database');
  const { closeFile, makeTables } = await import('./platform/database-file');
  const { openPlanFile, openPlanToRead } = await import('./planning/plan-file');
  const { backupFile } = await import('./keeping/backup');
  const { migrationsFolder } = await import('./testing/company');

  registerRooms();
  const store = openStore(folder, migrationsFolder);
  makeTables(store, [backupFile]);
  closeFile(store);
  closeFile(openPlanFile(folder));
  // From here the tables of the plan are seen as well as those of the database.
  const both = openPlanToRead(folder);
  expect(prepareEverything(both)).toBeGreaterThan(400);
  query(() => (db) => db.select({ n: sql<number>`1` }).from(sql`no_such_table`));
  expect(() => prepareEverything(both)).toThrow(/no_such_table/);
  closeFile(both);
});
