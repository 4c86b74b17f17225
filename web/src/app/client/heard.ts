/** Doing something whenever others change what is on the screen. */
import { DestroyRef, inject } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Store } from '@ngrx/store';
import { filter, merge, skip, throttleTime, type Observable } from 'rxjs';
import type { LiveTopic } from '@terrace/contract';
import { liveFeature } from './live.state';

const TOGETHER_MS = 200;

/**
 * Acts on what is heard of topics, for as long as the caller is there: on the first at once, on those that follow closely
 * together, and when something may have been missed. Called where things are injected.
 */
export function whenHeard(topics: () => readonly LiveTopic[], act: () => void): void {
  const heard = inject(Store)
    .select(liveFeature.selectLast)
    // What was heard before the caller came is in what it fetches first.
    .pipe(
      skip(1),
      filter((event) => event !== null && topics().includes(event.topic)),
    );
  merge(heard, missed().pipe(filter(() => topics().length > 0)))
    .pipe(throttleTime(TOGETHER_MS, undefined, { leading: true, trailing: true }), takeUntilDestroyed(inject(DestroyRef)))
    .subscribe(act);
}

/** Acts when something may have been missed: the server or the connection was away, or this page was. */
export function whenMissed(act: () => void): void {
  missed()
    .pipe(takeUntilDestroyed(inject(DestroyRef)))
    .subscribe(act);
}

function missed(): Observable<number> {
  return inject(Store).select(liveFeature.selectMissed).pipe(skip(1));
}
