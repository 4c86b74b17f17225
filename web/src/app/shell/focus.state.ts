/** The focus item: the item that the user last pointed at on any screen. The balance strip draws it. */
import { createActionGroup, createFeature, createReducer, on, props } from '@ngrx/store';

export const focusActions = createActionGroup({
  source: 'focus',
  events: { point: props<{ itemId: number; warehouseId: number | null }>() },
});

interface FocusState {
  readonly itemId: number | null;
  readonly warehouseId: number | null;
}

const initial: FocusState = { itemId: null, warehouseId: null };

export const focusFeature = createFeature({
  name: 'focus',
  reducer: createReducer(
    initial,
    on(focusActions.point, (_, { itemId, warehouseId }): FocusState => ({ itemId, warehouseId })),
  ),
});
