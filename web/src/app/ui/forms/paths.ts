/** Places in what is entered, as the contract and the server name them: `lines.0.quantity`. */

/** What stands at a place; nothing where there is no such place. */
export function valueAt(value: unknown, path: string): unknown {
  return path
    .split('.')
    .filter(Boolean)
    .reduce<unknown>((at, key) => (typeof at === 'object' && at !== null ? (at as Readonly<Record<string, unknown>>)[key] : undefined), value);
}

/** The deepest place of a path that there is: what is refused of something that is not typed belongs to what holds it. */
export function nearest(value: unknown, path: string): readonly string[] {
  const keys: string[] = [];
  let at = value;
  for (const key of path.split('.').filter(Boolean)) {
    if (typeof at !== 'object' || at === null || !(key in at)) break;
    at = (at as Readonly<Record<string, unknown>>)[key];
    keys.push(key);
  }
  return keys;
}

/**
 * Refusals that still hold: a field that was changed since is not refused any more. What is no field of its own is
 * refused until what holds it is changed; what belongs to no part at all, until it is sent again.
 */
export function stillRefused(fields: Readonly<Record<string, string>>, then: unknown, now: unknown): Readonly<Record<string, string>> {
  return Object.fromEntries(
    Object.entries(fields).filter(([path]) => {
      const place = nearest(then, path).join('.');
      return place === '' || JSON.stringify(valueAt(then, place)) === JSON.stringify(valueAt(now, place));
    }),
  );
}
