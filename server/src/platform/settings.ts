/** Settings of the company, as text by key. */
import { eq } from 'drizzle-orm';
import * as tables from '../schema';
import type { Store } from './database';

/** A setting, or `null` where it was never made. */
export function settingOf(store: Store, key: string): string | null {
  const [row] = store.db.select().from(tables.setting).where(eq(tables.setting.key, key)).all();
  return row?.value ?? null;
}

/** Keeps a setting. */
export function keepSetting(store: Store, key: string, value: string): void {
  store.db.insert(tables.setting).values({ key, value }).onConflictDoUpdate({ target: tables.setting.key, set: { value } }).run();
}
