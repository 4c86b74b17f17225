/** What somebody typed, put on top of what another has saved meanwhile. */

function same(a: unknown, b: unknown): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}

/**
 * A draft on a fresh base: fields that were typed (other than on the base they were typed on) stay as typed, all others
 * are the fresh ones. So nothing typed is lost, and nothing that another changed is undone unless it was typed over.
 */
export function rebased<T extends object>(base: T, typed: T, fresh: T): T {
  const kept = Object.entries(typed).filter(([field, value]) => !same(value, base[field as keyof T]));
  return { ...fresh, ...(Object.fromEntries(kept) as Partial<T>) };
}
