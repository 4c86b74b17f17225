/** Doing something whenever others change what is on the screen. */
import { DestroyRef, inject } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Store } from '@ngrx/store';
import { filter, throttleTime } from 'rxjs';
import { liveFeature } from './live.state';

const TOGETHER_MS = 200;

/**
 * Acts on what is heard of topics, for as long as the caller is there: on the first at once, on those that follow closely
 * together. Called where things are injected.
 */
export function whenHeard(topics: () => readonly string[], act: () => void): void {
  inject(Store)
    .select(liveFeature.selectLast)
    .pipe(
      filter((event) => event !== null && topics().includes(event.topic)),
      throttleTime(TOGETHER_MS, undefined, { leading: true, trailing: true }),
      takeUntilDestroyed(inject(DestroyRef)),
    )
    .subscribe(act);
}
