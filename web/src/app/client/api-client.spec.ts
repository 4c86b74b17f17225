import '@angular/compiler';
import { HttpClient, HttpErrorResponse, HttpHeaders } from '@angular/common/http';
import { Injector } from '@angular/core';
import { defer, of, throwError, type Observable } from 'rxjs';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { api } from '@terrace/contract';
import { ApiClient, Problem, addressOf, problemOf } from './api-client';

interface Sent {
  readonly method: string;
  readonly address: string;
  readonly body: unknown;
  readonly headers: Readonly<Record<string, string>>;
}

/** A line to the server that loses answers as a test says. */
class Line {
  readonly sent: Sent[] = [];
  /** What comes back, one after the other; the last for all that follow. */
  answers: unknown[] = [{}];

  get(address: string): Observable<unknown> {
    return this.request('GET', address, { body: null, headers: {} });
  }

  request(method: string, address: string, options: { body: unknown; headers: Record<string, string> }): Observable<unknown> {
    return defer(() => {
      this.sent.push({ method, address, body: options.body, headers: options.headers });
      const answer = this.answers.length > 1 ? this.answers.shift() : this.answers[0];
      return answer instanceof HttpErrorResponse ? throwError(() => answer) : of(answer);
    });
  }
}

const LOST = new HttpErrorResponse({ status: 0 });
const refusal = (status: number, body: unknown): HttpErrorResponse => new HttpErrorResponse({ status, error: body });
const params = { id: 7 };
let line: Line;
let client: ApiClient;

beforeEach(() => {
  vi.useFakeTimers();
  line = new Line();
  client = Injector.create({ providers: [{ provide: HttpClient, useValue: line }, { provide: ApiClient }] }).get(ApiClient);
});
afterEach(() => vi.useRealTimers());

/** What a call came to, when all its waiting is over. */
function outcome(call: Observable<unknown>): unknown[] {
  const heard: unknown[] = [];
  call.subscribe({ next: (answer) => heard.push(answer), error: (error: unknown) => heard.push(error) });
  vi.runAllTimers();
  return heard;
}

describe('a command whose answer is lost', () => {
  it('is sent again with the same key, so that it happens once', () => {
    line.answers = [LOST, LOST, { number: 'CO-1' }];
    expect(outcome(client.call(api.selling.reserveOrder, { params }))).toEqual([{ number: 'CO-1' }]);
    const keys = line.sent.map((each) => each.headers['Idempotency-Key']);
    expect(keys).toHaveLength(3);
    expect(new Set(keys).size).toBe(1);
    expect(keys[0]).toMatch(/^[0-9a-f-]{36}$/);
  });

  it('is given up after a while, and says that nothing typed is lost', () => {
    line.answers = [LOST];
    const [problem] = outcome(client.call(api.selling.reserveOrder, { params })) as [Problem];
    expect([problem.code, problem.message]).toEqual(['noAnswer', expect.stringContaining('still here')]);
    expect(line.sent).toHaveLength(4);
  });

  it('has a key of its own each time somebody sends it', () => {
    outcome(client.call(api.selling.reserveOrder, { params }));
    outcome(client.call(api.selling.reserveOrder, { params }));
    expect(new Set(line.sent.map((each) => each.headers['Idempotency-Key'])).size).toBe(2);
  });
});

describe('one intent', () => {
  const adjust = { body: { warehouseId: 1, reason: 'FOUND', lines: [{ itemId: 3, change: '2' }] } };
  const keys = (): (string | undefined)[] => [...new Set(line.sent.map((each) => each.headers['Idempotency-Key']))];
  const kept = new Map<string, string>();
  const loaded = (): ApiClient => Injector.create({ providers: [{ provide: HttpClient, useValue: line }, { provide: ApiClient }] }).get(ApiClient);
  beforeEach(() => {
    kept.clear();
    vi.stubGlobal('sessionStorage', {
      getItem: (name: string) => kept.get(name) ?? null,
      setItem: (name: string, text: string) => kept.set(name, text),
    });
    client = loaded();
  });
  afterEach(() => vi.unstubAllGlobals());

  it('keeps its key until it is answered, pressed again or after the page is loaded anew', () => {
    line.answers = [LOST];
    outcome(client.call(api.stores.adjust, adjust));
    outcome(client.call(api.stores.adjust, adjust));
    outcome(loaded().call(api.stores.adjust, adjust));
    line.answers = [refusal(503, null)];
    outcome(loaded().call(api.stores.adjust, adjust));
    expect(line.sent.length).toBeGreaterThan(12);
    expect(keys()).toHaveLength(1);
    line.answers = [{ number: 'ADJ-1' }];
    outcome(loaded().call(api.stores.adjust, adjust));
    expect(keys()).toHaveLength(1);
    // Done: the same once more is meant once more.
    outcome(loaded().call(api.stores.adjust, adjust));
    expect(keys()).toHaveLength(2);
  });

  it('is another where something else is sent, or after it was refused', () => {
    line.answers = [refusal(422, { code: 'tooFine', detail: 'Too fine.' })];
    outcome(client.call(api.stores.adjust, adjust));
    outcome(client.call(api.stores.adjust, adjust));
    line.answers = [LOST];
    outcome(client.call(api.stores.adjust, adjust));
    outcome(client.call(api.stores.adjust, { body: { ...adjust.body, reason: 'BROKEN' } }));
    expect(keys()).toHaveLength(4);
  });

  it('writes no password down', () => {
    line.answers = [LOST];
    outcome(client.call(api.platform.signIn, { body: { login: 'maren', password: 'larkmoor' } }));
    expect([...kept.values()].join()).not.toContain('larkmoor');
  });
});

describe('what the server refuses', () => {
  it('is not asked for again, and is said field by field', () => {
    line.answers = [
      refusal(422, {
        code: 'tooFine',
        detail: 'Too fine.',
        errors: [{ field: 'lines.0.quantity', message: 'Whole pieces only.' }],
        details: { most: '3' },
      }),
    ];
    const [problem] = outcome(client.call(api.selling.reserveOrder, { params })) as [Problem];
    expect(line.sent).toHaveLength(1);
    expect([problem.code, problem.message, problem.of('lines.0'), problem.of('customerId'), problem.details]).toEqual([
      'tooFine',
      'Too fine.',
      'Whole pieces only.',
      '',
      { most: '3' },
    ]);
  });

  it('is a problem whatever it looks like', () => {
    expect(problemOf(refusal(500, 'not { JSON'))).toMatchObject({ code: 'fault', message: 'The server answered 500.' });
    expect(problemOf(refusal(409, '{"code":"stale","detail":"Somebody was faster."}'))).toMatchObject({
      code: 'stale',
      message: 'Somebody was faster.',
    });
    expect(problemOf(new TypeError('x is undefined'))).toMatchObject({ code: 'fault', message: 'x is undefined' });
    const problem = new Problem('own', 'Mine.', {}, {});
    expect(problemOf(problem)).toBe(problem);
  });
});

describe('what stands beside the work', () => {
  it('is told to be missing until it is read again, each by itself', () => {
    line.answers = [refusal(500, { code: 'fault', detail: 'The trail is broken.' }), [], {}];
    const trail = { params: { kind: 'item' as const, id: 1 } };
    expect(outcome(client.beside(api.platform.trail, trail, null))).toEqual([null]);
    expect(client.trouble()?.message).toBe('The trail is broken.');
    expect(outcome(client.beside(api.platform.history, trail, []))).toEqual([[]]);
    expect(client.trouble()?.message).toBe('The trail is broken.');
    outcome(client.beside(api.platform.trail, trail, null));
    expect(client.trouble()).toBeNull();
  });

  it('is heard once and for all, and the newest trouble is told first', () => {
    client.tell(new Problem('one', 'First.', {}, {}), 'a');
    client.tell(new Problem('two', 'Second.', {}, {}), 'b');
    client.tell(new Problem('one', 'First, again.', {}, {}), 'a');
    expect(client.trouble()?.message).toBe('First, again.');
    client.heard();
    expect(client.trouble()).toBeNull();
  });
});

describe('a session that ended', () => {
  const ended = refusal(401, { code: 'notSignedIn', detail: 'Sign in.' });

  it('lets what was asked wait until somebody has signed in again, and asks it with the same key', () => {
    client.within(true);
    line.answers = [ended, { id: 7 }];
    const heard = outcome(client.call(api.selling.cancelOrder, { params, body: { version: 1, reason: 'asked' } }));
    expect([heard, client.ended()]).toEqual([[], true]);
    client.within(true);
    expect([heard, client.ended()]).toEqual([[{ id: 7 }], false]);
    expect(new Set(line.sent.map(({ headers }) => headers['Idempotency-Key'])).size).toBe(1);
  });

  it('is a refusal of what waited where they sign in as somebody else: nothing is asked in another’s name', () => {
    client.within(true);
    line.answers = [ended, { id: 7 }];
    const heard = outcome(client.call(api.selling.cancelOrder, { params, body: { version: 1, reason: 'asked' } }));
    client.within(false);
    client.within(true);
    expect([heard.length, line.sent.length, client.ended()]).toEqual([1, 1, false]);
    expect(heard).toMatchObject([{ code: 'notSignedIn' }]);
  });

  it('is a refusal where nobody was signed in, and where the password was wrong', () => {
    line.answers = [ended];
    expect(outcome(client.call(api.platform.getSession))).toMatchObject([{ code: 'notSignedIn' }]);
    client.within(true);
    line.answers = [refusal(401, { code: 'wrongPassword', detail: 'No.' })];
    expect(outcome(client.call(api.platform.signIn, { body: { login: 'a', password: 'b' } }))).toMatchObject([{ code: 'wrongPassword' }]);
    expect(client.ended()).toBe(false);
  });
});

describe('an address', () => {
  it('has its parameters and only what is asked for', () => {
    expect(addressOf(api.selling.getOrder, { params: { id: 12 } })).toBe('/api/selling/orders/12');
    expect(addressOf(api.platform.history, { params: { kind: 'item', id: 3 } })).toBe('/api/records/item/3/history');
    expect(addressOf(api.selling.listOrders, { query: { find: 'a & b', sort: '', offset: 0 } })).toBe('/api/selling/orders?find=a+%26+b&offset=0');
    expect(addressOf(api.platform.setPreference, { params: { key: 'grid/orders' } })).toBe('/api/session/preferences/grid%2Forders');
  });

  it('and what is read sends nothing and needs no key', () => {
    outcome(client.call(api.selling.getOrder, { params }));
    expect(line.sent).toEqual([{ method: 'GET', address: '/api/selling/orders/7', body: null, headers: {} }]);
  });
});

describe('a file that the server makes', () => {
  const named = { headers: new HttpHeaders({ 'content-disposition': 'attachment; filename="orders-2027-03-01.csv"' }), body: new Blob(['CO-1']) };

  it('comes with the name that it is given, and is asked for again where the answer was lost', () => {
    line.answers = [LOST, named];
    expect(outcome(client.file('/api/selling/orders?file=csv'))).toEqual([{ name: 'orders-2027-03-01.csv', content: named.body }]);
    expect(line.sent).toHaveLength(2);
  });

  it('that is refused says why, though the refusal comes as a file too', async () => {
    const words = JSON.stringify({ code: 'tooManyRows', detail: '9000 rows are too many for paper.' });
    // A browser reads a file by itself, which the document of these tests does not.
    line.answers = [refusal(422, Object.assign(new Blob([words]), { text: () => Promise.resolve(words) }))];
    vi.useRealTimers();
    const problem = await new Promise((done) => client.file('/api/selling/orders?file=pdf').subscribe({ error: done }));
    expect(problem).toMatchObject({ code: 'tooManyRows', message: '9000 rows are too many for paper.' });
  });
});
