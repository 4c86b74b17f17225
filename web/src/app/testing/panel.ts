/** A screen by itself as people see it: with its own stores, somebody signed in, and a client that answers what a test says. */
import '@angular/compiler';
import type { Signal, Type } from '@angular/core';
import { TestBed, getTestBed } from '@angular/core/testing';
import { BrowserTestingModule, platformBrowserTesting } from '@angular/platform-browser/testing';
import { Router, provideRouter } from '@angular/router';
import { Store, provideState, provideStore } from '@ngrx/store';
import { api, type Right, type Session } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
import { NO_CHOICES } from '../client/choices';
import { liveFeature } from '../client/live.state';
import { sessionActions, sessionFeature } from '../client/session.state';
import { focusFeature } from '../shell/focus.state';
import type { Act } from '../ui/acts';
import type { DocumentStore, Fact } from '../ui/document';
import type { FakeClient } from './fake-client';

/** What every panel of a document has within. */
export interface PanelParts {
  readonly store: DocumentStore;
  readonly facts: Signal<readonly Fact[]>;
  readonly acts: Signal<readonly Act[]>;
}

const somebody = (rights: readonly Right[]): Session => ({
  user: { id: 1, login: 'maren', name: 'Maren', role: 'manager' },
  rights: [...rights],
  today: '2027-03-01',
  company: 'Larkmoor',
  currency: 'CHF',
  habits: 'point',
  demo: false,
  attempts: null,
  warehouseId: 1,
  preferences: {},
});

const none = (): void => undefined;

/** Shows a screen with these inputs to somebody with these rights; pages that it leads to are kept in `visited`. */
export function screenWith<T>(screen: Type<T>, client: FakeClient, rights: readonly Right[], inputs: Partial<Record<keyof T, unknown>> = {}) {
  const bed = getTestBed();
  bed.resetTestEnvironment();
  bed.initTestEnvironment(BrowserTestingModule, platformBrowserTesting());
  // Nothing is laid out here: a screen is as wide as it likes to be.
  globalThis.matchMedia ??= (media) =>
    Object.assign(new EventTarget(), { media, matches: false, onchange: null, addListener: none, removeListener: none });
  client.otherwise(api.catalogue.choices, () => NO_CHOICES);
  const visited: string[] = [];
  TestBed.configureTestingModule({
    providers: [
      provideStore({}),
      provideState(sessionFeature),
      provideState(liveFeature),
      provideState(focusFeature),
      provideRouter([]),
      { provide: ApiClient, useValue: client },
    ],
  });
  const router = TestBed.inject(Router);
  router.navigateByUrl = (page) => {
    visited.push(String(page));
    return Promise.resolve(true);
  };
  TestBed.inject(Store).dispatch(sessionActions.signedIn({ session: somebody(rights) }));
  const fixture = TestBed.createComponent(screen);
  for (const [name, value] of Object.entries(inputs)) fixture.componentRef.setInput(name, value);
  fixture.detectChanges();
  TestBed.tick();
  // What lies over a screen, such as a dialog, stands beside it in the document.
  const page = document.body;
  const focused: Signal<{ itemId: number | null; warehouseId: number | null }> = TestBed.inject(Store).selectSignal(focusFeature.selectFocusState);
  return { screen: fixture.componentInstance, page, visited, focused };
}

/** Shows the record of an id to somebody with these rights. */
export function panelWith<T extends { readonly id: Signal<number> }>(panel: Type<T>, client: FakeClient, rights: readonly Right[], id: number) {
  const { screen, ...rest } = screenWith(panel, client, rights, { id } as Partial<Record<keyof T, unknown>>);
  return { panel: screen as T & PanelParts, ...rest };
}

/** What can be done now, in words; what can't be pressed yet is in brackets. */
export function offered({ acts }: PanelParts): string[] {
  return acts()
    .filter((act) => act.shown !== false)
    .map((act) => (act.disabled ? `(${act.words})` : act.words));
}

/** Does what an act stands for, as if its question had been agreed to. */
export function press({ acts }: PanelParts, words: string, reason = ''): void {
  const act = acts().find((each) => each.shown !== false && each.words === words);
  if (!act?.act) throw new Error(`nothing is called "${words}" now`);
  act.act(reason);
  TestBed.tick();
}
