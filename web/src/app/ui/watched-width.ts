/** The width that a drawing has to fill, as it changes. */
import { DestroyRef, ElementRef, afterNextRender, inject, signal, type Signal } from '@angular/core';

/** The width of the component in hand; `first` until it is known. Called where things are injected. */
export function watchedWidth(first: number): Signal<number> {
  const host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  const destroyed = inject(DestroyRef);
  const width = signal(first);
  afterNextRender(() => {
    const watch = new ResizeObserver(([entry]) => entry && width.set(Math.floor(entry.contentRect.width)));
    watch.observe(host);
    destroyed.onDestroy(() => watch.disconnect());
  });
  return width;
}
