/** Which columns of a list give way where it is too narrow for all: those that are said to, the last of them first. */
import type { GridColumn } from './grid-cells';

/** What a column without a width of its own needs at least, in pixels; with a description behind its code it needs more. */
export const LEAST = 96;
export const LEAST_BESIDE = 118;

export function leastWidth({ width, beside }: GridColumn): number {
  return width ?? (beside === undefined ? LEAST : LEAST_BESIDE);
}

/**
 * The fields that give way so that the others fit; `shown` says which columns are wanted at all, and `kept` which of them
 * stay whatever the room, because somebody asked for them. Widths are in pixels, `taken` is what is not for columns.
 */
export function givingWay(
  columns: readonly GridColumn[],
  room: number,
  shown: (column: GridColumn) => boolean,
  kept: (column: GridColumn) => boolean = () => false,
): ReadonlySet<string> {
  const wanted = columns.filter(shown);
  let needed = wanted.reduce((sum, column) => sum + leastWidth(column), 0);
  const gone = new Set<string>();
  const spare = wanted.filter((column) => column.spare !== undefined && !kept(column));
  const later = spare.map((column, index) => ({ column, index })).sort((a, b) => (b.column.spare ?? 0) - (a.column.spare ?? 0) || b.index - a.index);
  for (const { column } of later) {
    if (needed <= room) break;
    gone.add(column.field);
    needed -= leastWidth(column);
  }
  return gone;
}
