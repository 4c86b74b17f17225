/** Pointing at items: what the balance strip draws is what somebody last pointed at. */
import { effect, inject, untracked } from '@angular/core';
import { Store } from '@ngrx/store';
import { focusActions } from './focus.state';

/** Points at items in the warehouse of the moment. */
function pointer(warehouseId: () => number | null | undefined): (itemId: number) => void {
  const store = inject(Store);
  return (itemId) => store.dispatch(focusActions.point({ itemId, warehouseId: warehouseId() ?? null }));
}

/**
 * The same for a record, and its first item is pointed at when it comes: whoever has pointed at another since looks at
 * that. Changes that keep the record's id do not point anew.
 */
export function pointerOf<R extends { readonly id: number }>(
  record: () => R | null,
  warehouseId: (record: R) => number | null,
  first: (record: R) => number | undefined,
): (itemId: number) => void {
  const point = pointer(() => {
    const kept = record();
    return kept && warehouseId(kept);
  });
  let pointedFor = 0;
  effect(() => {
    const kept = record();
    if (!kept || kept.id === pointedFor) return;
    pointedFor = kept.id;
    const itemId = first(kept);
    if (itemId !== undefined) untracked(() => point(itemId));
  });
  return point;
}
