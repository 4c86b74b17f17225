/** What somebody typed, put on top of what another has saved meanwhile. */

function same(a: unknown, b: unknown): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}

/** Parts by name, each of which is typed by itself; a list is typed as a whole. */
function parts(value: unknown): value is Readonly<Record<string, unknown>> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

function onto(base: unknown, typed: unknown, fresh: unknown): unknown {
  if (same(typed, base)) return fresh;
  return parts(base) && parts(typed) && parts(fresh) ? rebased(base, typed, fresh) : typed;
}

/**
 * A draft on a fresh base: fields that were typed (other than on the base they were typed on) stay as typed, all others
 * are the fresh ones; so with the parts of a field that has some. Nothing typed is lost, and nothing that another changed
 * is undone unless it was typed over.
 */
export function rebased<T extends object>(base: T, typed: T, fresh: T): T {
  const at = (whole: T, field: string): unknown => (Object.hasOwn(whole, field) ? whole[field as keyof T] : undefined);
  const gone = Object.keys(base).filter((field) => !Object.hasOwn(typed, field) && same(at(fresh, field), at(base, field)));
  const kept = Object.entries(typed)
    .filter(([field, value]) => Object.hasOwn(fresh, field) || !same(value, at(base, field)))
    .map(([field, value]) => [field, onto(at(base, field), value, at(fresh, field))]);
  const all = { ...fresh, ...(Object.fromEntries(kept) as Partial<T>) };
  return Object.fromEntries(Object.entries(all).filter(([field]) => !gone.includes(field))) as T;
}
