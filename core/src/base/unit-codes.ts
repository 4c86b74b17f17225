/** How others write units: by UNECE Recommendation 20. */

/** Units of UNECE Recommendation 20 by which others call ours. */
const UNITS: Readonly<Record<string, string>> = {
  C62: 'each',
  EA: 'each',
  H87: 'each',
  PCE: 'each',
  NAR: 'each',
  MTR: 'm',
  KGM: 'kg',
  GRM: 'g',
  LTR: 'l',
  HUR: 'hour',
  MTK: 'm2',
};

/**
 * Our code of a unit as others write it: by UNECE Recommendation 20, or as it is.
 *
 * @example unitCalled('C62') // 'each'
 */
export function unitCalled(code: string): string {
  return UNITS[code.toUpperCase()] ?? code;
}

/**
 * The code of a unit for others: by UNECE Recommendation 20 where it has one, else pieces.
 *
 * @example unitCodeOf('kg') // 'KGM'
 */
export function unitCodeOf(unit: string): string {
  const found = Object.entries(UNITS).find(([, ours]) => ours === unit);
  return found?.[0] ?? 'C62';
}
