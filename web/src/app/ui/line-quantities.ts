/** What is typed now for each line of a document: a quantity, and the lots or serial numbers that are named for it. */
import { signal, type WritableSignal } from '@angular/core';
import type { PieceInput } from '@terrace/contract';

export type ByLine<T> = Readonly<Record<number, T>>;

export class LineQuantities {
  constructor(
    readonly quantities: WritableSignal<ByLine<string>> = signal({}),
    readonly pieces: WritableSignal<ByLine<readonly PieceInput[]>> = signal({}),
  ) {}

  /** As typed; empty where nothing is. */
  of(lineId: number): string {
    return this.quantities()[lineId] ?? '';
  }

  piecesOf(lineId: number): readonly PieceInput[] {
    return this.pieces()[lineId] ?? [];
  }

  type(lineId: number, quantity: string): void {
    this.quantities.update((quantities) => ({ ...quantities, [lineId]: quantity }));
  }

  name(lineId: number, pieces: readonly PieceInput[]): void {
    this.pieces.update((all) => ({ ...all, [lineId]: pieces }));
  }

  clear(): void {
    this.quantities.set({});
    this.pieces.set({});
  }

  /** What a command takes of a line: its quantity, and the pieces where any are named. */
  taken(lineId: number): { quantity: string; pieces?: PieceInput[] } {
    const pieces = this.piecesOf(lineId);
    return { quantity: this.of(lineId) || '0', ...(pieces.length > 0 ? { pieces: [...pieces] } : {}) };
  }
}
