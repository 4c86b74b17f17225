/** Settings of the company, as text by key. */
import { eq } from 'drizzle-orm';
import type { Store } from './database';
import { command, query } from './query';
import { keepRow } from './rows';
import { setting } from './schema';

const byKey = query(($: { key: string }) => (db) => db.select({ value: setting.value }).from(setting).where(eq(setting.key, $.key)));

/** A setting, or `null` where it was never made. */
export function settingOf(store: Store, key: string): string | null {
  return byKey.one({ store }, { key })?.value ?? null;
}

/** Name of the company. */
export function companyOf(store: Store): string {
  return settingOf(store, 'company') ?? 'Terrace';
}

/** Code of the currency that the books are kept in. */
export function currencyOf(store: Store): string {
  return settingOf(store, 'currency') ?? 'EUR';
}

const dropped = command(($: { key: string }) => (db) => db.delete(setting).where(eq(setting.key, $.key)));

/** Drops a setting, as if it had never been made. */
export function dropSetting(store: Store, key: string): void {
  dropped.run({ store }, { key });
}

/** Keeps a setting. */
export function keepSetting(store: Store, key: string, value: string): void {
  keepRow({ store }, setting, ['key'], { key, value });
}
