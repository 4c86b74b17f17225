/** A client that remembers what it was asked and answers what a test says, for stores by themselves. */
import { Injector, runInInjectionContext, type StaticProvider, type Type } from '@angular/core';
import { catchError, isObservable, of, throwError, type Observable } from 'rxjs';
import type { AnyRoute } from '@terrace/contract';
import { ApiClient, type Call, type Problem } from '../client/api-client';

type Answer = (call: Call<AnyRoute>) => unknown;

export class FakeClient {
  readonly asked: { readonly path: string; readonly call: Call<AnyRoute> }[] = [];
  /** What it was to tell where no screen has a place for it. */
  readonly told: Problem[] = [];
  private readonly answers = new Map<string, Answer>();

  /** What a route answers from now on; an observable answers when it does. */
  answer(route: AnyRoute, answer: Answer): void {
    this.answers.set(`${route.method} ${route.path}`, answer);
  }

  /** What a route answers where a test says nothing of it. */
  otherwise(route: AnyRoute, answer: Answer): void {
    if (!this.answers.has(`${route.method} ${route.path}`)) this.answer(route, answer);
  }

  /** Lets a route refuse from now on. */
  refuse(route: AnyRoute, problem: Problem): void {
    this.answer(route, () => problem);
  }

  call(route: AnyRoute, call: Call<AnyRoute> = {}): Observable<unknown> {
    this.asked.push({ path: route.path, call });
    const answer = this.answers.get(`${route.method} ${route.path}`)?.(call);
    if (isObservable(answer)) return answer;
    return answer instanceof Error ? throwError(() => answer) : of(answer);
  }

  beside(route: AnyRoute, call: Call<AnyRoute>, instead: unknown): Observable<unknown> {
    return this.call(route, call).pipe(catchError(() => of(instead)));
  }

  within(): void {
    // A fake has no session that could end.
  }

  tell(problem: Problem): void {
    this.told.push(problem);
  }

  send(path: string): Observable<unknown> {
    this.asked.push({ path, call: {} });
    return of(this.answers.get(`send ${path}`)?.({}));
  }

  answerFile(path: string, answer: Answer): void {
    this.answers.set(`send ${path}`, answer);
  }
}

/** A store with the fake in place of the client. */
export function storeWith<T>(store: Type<T>, client: FakeClient, more: readonly StaticProvider[] = []): T {
  const injector = Injector.create({ providers: [{ provide: ApiClient, useValue: client }, { provide: store }, ...more] });
  return runInInjectionContext(injector, () => injector.get(store));
}
