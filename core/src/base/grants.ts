/** What a person may do, put together from their roles: each right everywhere, or in some places only. */

/** Where a right holds: everywhere, or in the places with these numbers. */
export type Where = 'everywhere' | ReadonlySet<number>;

/** Rights that somebody has, each with where it holds. */
export type GrantsOf<R extends string> = ReadonlyMap<R, Where>;

/** A role as somebody has it. */
export interface HeldRole {
  readonly rights: readonly string[];
  /** Has every right there is, whatever is listed. */
  readonly everything: boolean;
  /** Places in which its rights hold, of those that can be given so; `null` for everywhere. */
  readonly places: readonly number[] | null;
}

/** The rights that there are. */
export interface KnownRights<R extends string> {
  readonly all: readonly R[];
  /** Those that can be given for some places only; all others hold everywhere. */
  readonly byPlace: ReadonlySet<R>;
}

/**
 * What several roles let somebody do together: a right holds wherever one of them gives it. Rights that are not known (of
 * another version) count for nothing.
 *
 * @example
 * const known = { all: ['see', 'ship'], byPlace: new Set(['ship']) };
 * grantsOf(known, [{ rights: ['see', 'ship'], everything: false, places: [2] }]);
 * // see: everywhere, ship: in 2
 */
export function grantsOf<R extends string>(known: KnownRights<R>, roles: readonly HeldRole[]): GrantsOf<R> {
  const grants = new Map<R, Where>();
  for (const right of known.all) {
    const giving = roles.filter((role) => role.everything || role.rights.includes(right));
    if (giving.length === 0) continue;
    const everywhere = !known.byPlace.has(right) || giving.some((role) => role.places === null);
    const places = new Set(giving.flatMap((role) => role.places ?? []));
    if (everywhere) grants.set(right, 'everywhere');
    else if (places.size > 0) grants.set(right, places);
  }
  return grants;
}

/** Whether a right holds in a place. */
export function holdsIn<R extends string>(grants: GrantsOf<R>, right: R, place: number): boolean {
  const where = grants.get(right);
  return where === 'everywhere' || (where?.has(place) ?? false);
}

/** What of one person's rights a change gives and takes. A right that holds in other places than before is in both where it lost some and won some. */
export function grantsChanged<R extends string>(
  before: GrantsOf<R>,
  after: GrantsOf<R>,
): { readonly gained: readonly R[]; readonly lost: readonly R[] } {
  const more = (from: GrantsOf<R>, to: GrantsOf<R>): R[] => [...to].flatMap(([right, where]) => (covers(from.get(right), where) ? [] : [right]));
  return { gained: more(before, after), lost: more(after, before) };
}

function covers(wide: Where | undefined, narrow: Where): boolean {
  if (wide === undefined) return false;
  if (wide === 'everywhere') return true;
  return narrow !== 'everywhere' && [...narrow].every((place) => wide.has(place));
}
