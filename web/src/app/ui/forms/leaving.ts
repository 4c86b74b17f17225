/** Asks before a page is left on which something was typed that is not saved. */
import { Injectable, inject, signal } from '@angular/core';
import type { CanDeactivateFn, Routes } from '@angular/router';

interface Typed {
  readonly typed: () => boolean;
  /** Whoever leaves all the same does not want it kept. */
  readonly drop: () => void;
}

@Injectable({ providedIn: 'root' })
export class Leaving {
  private readonly entries = new Set<Typed>();
  private readonly waiting = signal<((leave: boolean) => void) | null>(null);
  readonly asking = this.waiting.asReadonly();

  /** Watches what is entered until the function that is answered is called. */
  watch(entry: Typed): () => void {
    this.entries.add(entry);
    return () => this.entries.delete(entry);
  }

  /** Whether the page may be left: at once where nothing was typed, else as the person answers. */
  ask(): boolean | Promise<boolean> {
    this.answer(false);
    if (![...this.entries].some((entry) => entry.typed())) return true;
    return new Promise((answer) => this.waiting.set(answer));
  }

  answer(leave: boolean): void {
    const waiting = this.waiting();
    this.waiting.set(null);
    if (waiting && leave) for (const entry of this.entries) entry.drop();
    waiting?.(leave);
  }
}

const mayLeave: CanDeactivateFn<unknown> = () => inject(Leaving).ask();

/** Routes whose pages are asked about before they are left. */
export function guarded(routes: Routes): Routes {
  return routes.map((route) => ({
    ...route,
    ...(route.children ? { children: guarded(route.children) } : {}),
    ...(route.component || route.loadComponent ? { canDeactivate: [...(route.canDeactivate ?? []), mayLeave] } : {}),
  }));
}
