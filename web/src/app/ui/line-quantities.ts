/** What is typed now for each line of a document: a quantity, and the lots or serial numbers that are named for it. */
import { signal, type WritableSignal } from '@angular/core';
import type { PieceInput } from '@terrace/contract';
import { writable } from './forms/writable';

export type ByLine<T> = Readonly<Record<number, T>>;

export interface LineDraft {
  readonly quantities: ByLine<string>;
  readonly pieces: ByLine<readonly PieceInput[]>;
}

export const NO_LINES: LineDraft = { quantities: {}, pieces: {} };

/** Every line with what it begins with, so that each has a field: empty unless it is said otherwise. */
export function lineDraft<L>(
  lines: readonly L[],
  idOf: (line: L) => number,
  quantityOf: (line: L) => string = () => '',
  piecesOf: (line: L) => readonly PieceInput[] = () => [],
): LineDraft {
  return {
    quantities: Object.fromEntries(lines.map((line) => [idOf(line), quantityOf(line)])),
    pieces: Object.fromEntries(lines.map((line) => [idOf(line), piecesOf(line)])),
  };
}

/** Where a place of what is sent (`lines.0.quantity`) stands in the draft, when these lines are sent. */
export function linePlace(place: string, sent: readonly number[]): string {
  const [, index, part] = /^lines\.(\d+)\.(quantity|pieces)/.exec(place) ?? [];
  const id = sent[Number(index)];
  if (part === undefined || id === undefined) return place;
  return part === 'quantity' ? `quantities.${id}` : `pieces.${id}`;
}

/** The lines of what is entered, where that has more. */
export function linesOf<T extends LineDraft>(draft: WritableSignal<T>): WritableSignal<LineDraft> {
  return writable(
    () => draft() as LineDraft,
    ({ quantities, pieces }) => draft.update((now) => ({ ...now, quantities, pieces })),
  );
}

export class LineQuantities {
  constructor(private readonly draft: WritableSignal<LineDraft> = signal(NO_LINES)) {}

  /** As typed; empty where nothing is. */
  of(lineId: number): string {
    return this.draft().quantities[lineId] ?? '';
  }

  piecesOf(lineId: number): readonly PieceInput[] {
    return this.draft().pieces[lineId] ?? [];
  }

  type(lineId: number, quantity: string): void {
    this.typeAll({ [lineId]: quantity });
  }

  typeAll(quantities: ByLine<string>): void {
    this.draft.update((draft) => ({ ...draft, quantities: { ...draft.quantities, ...quantities } }));
  }

  name(lineId: number, pieces: readonly PieceInput[]): void {
    this.draft.update((draft) => ({ ...draft, pieces: { ...draft.pieces, [lineId]: pieces } }));
  }

  /** What a command takes of a line: its quantity, and the pieces where any are named. */
  taken(lineId: number): { quantity: string; pieces?: PieceInput[] } {
    const pieces = this.piecesOf(lineId);
    return { quantity: this.of(lineId) || '0', ...(pieces.length > 0 ? { pieces: pieces.map((piece) => ({ ...piece })) } : {}) };
  }
}
