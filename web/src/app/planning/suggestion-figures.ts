/** The figures under which a suggestion is kept, and the one way to keep it: anew, or what is kept already by its version. */
import type { Observable } from 'rxjs';
import { api, type SuggestionView } from '@terrace/contract';
import type { ApiClient } from '../client/api-client';

export interface KeptFigures {
  readonly kind: SuggestionView['kind'];
  /** In the item's unit. */
  readonly quantity: string;
  readonly placeBy: string;
  readonly due: string;
  readonly supplierId: number | null;
  /** The warehouse that a transfer comes from. */
  readonly fromId: number | null;
  readonly note: string;
}

/** What the plan says, as it would be kept unchanged. */
export function figuresOf(each: SuggestionView, warehouses: readonly { readonly id: number; readonly code: string }[]): KeptFigures {
  const fromId = warehouses.find((one) => one.code === each.from)?.id ?? null;
  const { kind, quantity, placeBy, due, supplierId } = each;
  return { kind, quantity, placeBy, due, supplierId, fromId, note: each.firmId === null ? '' : (each.note ?? '') };
}

type Choice = Pick<SuggestionView['choices'][number], 'supplierId' | 'cost'>;

/** Who asks least in all, where there is a choice. */
export function cheapestOf(choices: readonly Choice[]): number | null {
  const [first] = [...choices].sort((a, b) => Number(a.cost) - Number(b.cost));
  return choices.length > 1 && first ? first.supplierId : null;
}

/** What is not known of a supplier who is chosen though they have no terms for the item; nothing where they have. */
export function unknownOf(choices: readonly Choice[], supplierId: number | null): string {
  const known = supplierId === null || choices.some((one) => one.supplierId === supplierId);
  return known ? '' : 'They have no terms for this item: neither price nor lead time is known.';
}

/** Keeps a suggestion with these figures; answers the number that it is kept under. */
export function sendKept(
  client: ApiClient,
  { id: name, firmId, version }: SuggestionView,
  figures: KeptFigures,
): Observable<{ readonly number: string }> {
  return firmId !== null && version !== null
    ? client.call(api.planning.changeFirm, { params: { id: firmId }, body: { ...figures, version } })
    : client.call(api.planning.keepSuggestion, { body: { ...figures, name, seq: 0 } });
}
