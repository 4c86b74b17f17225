/** Calls routes of the contract. A command carries one idempotency key until it is answered, however often it is sent. */
import { HttpClient, HttpErrorResponse } from '@angular/common/http';
import { Injectable, computed, inject, signal } from '@angular/core';
import { catchError, defer, from, map, type Observable, of, retry, Subject, switchMap, take, tap, throwError, timer } from 'rxjs';
import type { AnswerOf, AnyRoute, BodyIn, ParamsOf, ProblemDetails, QueryIn } from '@terrace/contract';
import { Unanswered } from './unanswered';

export interface Call<R extends AnyRoute> {
  readonly params?: ParamsOf<R>;
  readonly query?: QueryIn<R>;
  readonly body?: BodyIn<R>;
}

/** What the server refused, in words for people. */
export class Problem extends Error {
  constructor(
    readonly code: string,
    message: string,
    readonly fields: Readonly<Record<string, string>>,
    readonly details: Readonly<Record<string, unknown>>,
  ) {
    super(message);
    this.name = 'Problem';
  }

  /** What is refused of a field or of a part of it; empty where nothing is. */
  of(field: string): string {
    return Object.entries(this.fields).find(([each]) => each.startsWith(field))?.[1] ?? '';
  }
}

const RETRIES = 3;
const RETRY_MS = 700;
/** Said by what stands between when the server does not answer. */
const BETWEEN = new Set([502, 503, 504]);

/** The address of a route with its parameters and query. */
export function addressOf<R extends AnyRoute>(route: R, call: Call<R> = {}): string {
  const params = (call.params ?? {}) as Readonly<Record<string, string | number>>;
  const path = route.path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(String(params[name] ?? '')));
  const query = Object.entries((call.query ?? {}) as Readonly<Record<string, unknown>>).filter(([, value]) => value !== undefined && value !== '');
  const text = new URLSearchParams(query.map(([name, value]) => [name, String(value)])).toString();
  return `/api${path}${text === '' ? '' : `?${text}`}`;
}

/** A problem from whatever went wrong on the way. */
export function problemOf(error: unknown): Problem {
  if (error instanceof Problem) return error;
  if (!(error instanceof HttpErrorResponse)) return new Problem('fault', error instanceof Error ? error.message : 'Something went wrong.', {}, {});
  if (error.status === 0) return new Problem('noAnswer', 'The server does not answer. What you typed is still here: try again in a moment.', {}, {});
  const details = (typeof error.error === 'string' ? readJson(error.error) : error.error) as Partial<ProblemDetails> | null;
  const fields = Object.fromEntries((details?.errors ?? []).map((each) => [each.field, each.message]));
  return new Problem(details?.code ?? 'fault', details?.detail ?? `The server answered ${error.status}.`, fields, details?.details ?? {});
}

/** Whether somebody answered: not where nothing came back, or only what stands between said so. */
function isAnswer(error: unknown): boolean {
  return !(error instanceof HttpErrorResponse) || (error.status !== 0 && !BETWEEN.has(error.status));
}

/** Whether the server no longer knows who asks. */
function hasEnded(error: unknown): boolean {
  return error instanceof HttpErrorResponse && error.status === 401 && problemOf(error).code === 'notSignedIn';
}

/** The same map where it does not have it, so that nothing is drawn anew. */
function without(missing: ReadonlyMap<string, Problem>, of: string): ReadonlyMap<string, Problem> {
  return missing.has(of) ? new Map([...missing].filter(([each]) => each !== of)) : missing;
}

/** A refusal with its words in place of the file that they came as. */
function refusedWith({ status, statusText, headers, url }: HttpErrorResponse, text: string): HttpErrorResponse {
  return new HttpErrorResponse({ error: text, status, statusText, headers, ...(url === null ? {} : { url }) });
}

function readJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

@Injectable({ providedIn: 'root' })
export class ApiClient {
  private readonly http = inject(HttpClient);
  private readonly unanswered = new Unanswered(typeof sessionStorage === 'undefined' ? null : sessionStorage);
  private inSession = false;
  /** Says whether those who were asked to sign in again did. */
  private readonly answered = new Subject<boolean>();
  private readonly endedNow = signal(false);
  /** Whether the session ended under the hands of whoever works: what they asked for waits until they have signed in again. */
  readonly ended = this.endedNow.asReadonly();
  private readonly missing = signal<ReadonlyMap<string, Problem>>(new Map());
  /** Why something beside the work in hand could not be read; the frame says it until that is read again. */
  readonly trouble = computed((): Problem | null => [...this.missing().values()].at(-1) ?? null);

  /** Calls a route; a lost answer is asked for again with the same key, so nothing happens twice. */
  call<R extends AnyRoute>(route: R, call: Call<R> = {}): Observable<AnswerOf<R>> {
    const [method, address] = [route.method.toUpperCase(), addressOf(route, call)];
    if (route.method === 'get') return this.asked(this.http.request<AnswerOf<R>>(method, address, { body: null, headers: {} }));
    return defer(() => {
      const body = call.body ?? {};
      const { intent, key } = this.unanswered.keyOf(method, address, body);
      return this.asked(this.http.request<AnswerOf<R>>(method, address, { body, headers: { 'Idempotency-Key': key } }), () =>
        this.unanswered.answered(intent),
      );
    });
  }

  /** Fetches a file that the server makes, with the name that it gives it. */
  file(address: string): Observable<{ readonly name: string; readonly content: Blob }> {
    const request = this.http.get(address, { observe: 'response', responseType: 'blob' }).pipe(
      // What is refused comes as a file as well: read before anything is said of it.
      catchError((error: unknown) =>
        error instanceof HttpErrorResponse && error.error instanceof Blob
          ? from(error.error.text()).pipe(switchMap((text) => throwError(() => refusedWith(error, text))))
          : throwError(() => error),
      ),
    );
    return this.asked(request).pipe(
      map((answer) => ({
        name: /filename="([^"]+)"/.exec(answer.headers.get('content-disposition') ?? '')?.[1] ?? 'file',
        content: answer.body ?? new Blob(),
      })),
    );
  }

  /** Asks again where no answer came; `answered` hears of one, good or bad. */
  private asked<T>(request: Observable<T>, answered: () => void = () => undefined): Observable<T> {
    return request.pipe(
      tap({
        next: answered,
        error: (error: unknown) => {
          if (isAnswer(error)) answered();
        },
      }),
      retry({
        count: RETRIES,
        delay: (error: unknown, count) =>
          error instanceof HttpErrorResponse && error.status === 0 ? timer(RETRY_MS * count) : throwError(() => error),
      }),
      catchError((error: unknown) =>
        this.inSession && hasEnded(error) ? this.afterSigningIn(() => this.asked(request, answered), error) : throwError(() => problemOf(error)),
      ),
    );
  }

  /** Somebody is signed in, or nobody is any more: what still waits is asked then, or not at all. */
  within(session: boolean): void {
    this.inSession = session;
    this.endedNow.set(false);
    this.answered.next(session);
  }

  /** What is asked while nobody is signed in any more waits for them, and is never asked in the name of another. */
  private afterSigningIn<T>(again: () => Observable<T>, refused: unknown): Observable<T> {
    this.endedNow.set(true);
    return this.answered.pipe(
      take(1),
      switchMap((session) => (session ? again() : throwError(() => problemOf(refused)))),
    );
  }

  /** Reads what stands beside the work in hand. Where it can't be read `instead` stands there, and the frame says why. */
  beside<R extends AnyRoute, T>(route: R, call: Call<R>, instead: T): Observable<AnswerOf<R> | T> {
    return this.call(route, call).pipe(
      tap(() => this.missing.update((missing) => without(missing, route.path))),
      catchError((error: unknown) => {
        this.tell(problemOf(error), route.path);
        return of(instead);
      }),
    );
  }

  /** Tells what went wrong where no screen has a place for it. */
  tell(problem: Problem, of = ''): void {
    this.missing.update((missing) => new Map([...without(missing, of), [of, problem]]));
  }

  /** Somebody has read what was told. */
  heard(): void {
    this.missing.set(new Map());
  }

  /** Attaches a file to a record. */
  attach(kind: string, id: number, file: File): Observable<unknown> {
    return this.send(`/records/${kind}/${id}/files`, file);
  }

  /** Sends a file to an address of the API, with what else is said of it. */
  send<T>(path: string, file: File, fields: Readonly<Record<string, string>> = {}, headers: Readonly<Record<string, string>> = {}): Observable<T> {
    const form = new FormData();
    for (const [name, value] of Object.entries(fields)) form.append(name, value);
    form.append('file', file);
    return this.http.post<T>(`/api${path}`, form, { headers }).pipe(catchError((error: unknown) => throwError(() => problemOf(error))));
  }
}
