/**
 * Supply and demand of an item in a warehouse. Stores knows no orders: the rooms that have some add a source here, and
 * the balance strip, the explorer and promises read them all alike.
 */
import type { DocumentKind } from '@terrace/contract';
import type { ProjectionEvent } from '@terrace/core';
import type { Work } from '../platform/work';
import type { HolderKind } from './schema';

export interface StockEvent extends ProjectionEvent {
  readonly link: { readonly kind: DocumentKind; readonly id: number } | null;
  /** Whether it waits without a promise: it counts on nothing yet, so that others may be promised what is there. */
  readonly waits?: boolean;
  /** Whose reservation may cover it. */
  readonly holder: { readonly kind: HolderKind; readonly id: number } | null;
}

type EventSource = (work: Work, item: number, warehouse: number) => readonly StockEvent[];

const sources: EventSource[] = [];

/** Adds a source of supply and demand; at start, once per room. */
export function addEventSource(source: EventSource): void {
  if (!sources.includes(source)) sources.push(source);
}

/** All that is expected to come and go, suggestions of the plan included. */
export function stockEvents(work: Work, item: number, warehouse: number): StockEvent[] {
  return sources.flatMap((source) => source(work, item, warehouse));
}
