/** A screen's class by itself: with its own stores, somebody signed in, and a client that answers what a test says; without its template. */
import '@angular/compiler';
import type { Provider, Signal, Type } from '@angular/core';
import { SIGNAL } from '@angular/core/primitives/signals';
import { TestBed, getTestBed } from '@angular/core/testing';
import { BrowserTestingModule, platformBrowserTesting } from '@angular/platform-browser/testing';
import { Router } from '@angular/router';
import { Store, provideState, provideStore } from '@ngrx/store';
import type { Right, Session } from '@terrace/contract';
import { ApiClient } from '../client/api-client';
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

/** Shows a screen with these inputs to somebody with these rights; pages that it leads to are kept in `visited`. */
export function screenWith<T>(screen: Type<T>, client: FakeClient, rights: readonly Right[], inputs: Partial<Record<keyof T, unknown>> = {}) {
  const bed = getTestBed();
  bed.resetTestEnvironment();
  bed.initTestEnvironment(BrowserTestingModule, platformBrowserTesting());
  const visited: string[] = [];
  const { providers = [] } = (screen as unknown as { __annotations__: readonly [{ providers?: Provider[] }] }).__annotations__[0];
  TestBed.configureTestingModule({
    providers: [
      provideStore({}),
      provideState(sessionFeature),
      provideState(liveFeature),
      provideState(focusFeature),
      { provide: ApiClient, useValue: client },
      { provide: Router, useValue: { navigateByUrl: (page: string) => visited.push(page) } },
      providers,
    ],
  });
  TestBed.inject(Store).dispatch(sessionActions.signedIn({ session: somebody(rights) }));
  const made = TestBed.runInInjectionContext(() => new screen());
  for (const [name, value] of Object.entries(inputs)) {
    const node = (made[name as keyof T] as Signal<unknown>)[SIGNAL] as { applyValueToInputSignal: (node: unknown, value: unknown) => void };
    node.applyValueToInputSignal(node, value);
  }
  TestBed.tick();
  const focused: Signal<{ itemId: number | null; warehouseId: number | null }> = TestBed.inject(Store).selectSignal(focusFeature.selectFocusState);
  return { screen: made, visited, focused };
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
