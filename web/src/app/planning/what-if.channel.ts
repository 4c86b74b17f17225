/** What the page and the thread that keeps the copy say to each other. */
import { Injectable } from '@angular/core';
import type { PlanningRule, Supposition } from '@terrace/core';
import { Problem } from '../client/api-client';
import type { CopyWords, MovableRow, WhatIfView } from './what-if.desk';

export interface Asked {
  /** Takes a copy of the plan as it is now. */
  readonly begin: { readonly with: { readonly address: string }; readonly answer: CopyWords };
  readonly suppose: { readonly with: { readonly list: readonly Supposition[] }; readonly answer: WhatIfView };
  readonly find: { readonly with: { readonly text: string }; readonly answer: readonly MovableRow[] };
  readonly rule: { readonly with: { readonly item: string; readonly warehouse: string }; readonly answer: PlanningRule | null };
}
export type About = keyof Asked;
export type Question = { readonly [A in About]: { readonly about: A } & Asked[A]['with'] }[About];

export interface ToDesk {
  readonly id: number;
  readonly question: Question;
}

export interface Refused {
  readonly code: string;
  readonly message: string;
  /** The place of the supposition that is refused. */
  readonly field: string | null;
}

export interface FromDesk {
  readonly id: number;
  readonly answer?: unknown;
  readonly refused?: Refused;
}

@Injectable({ providedIn: 'root' })
export class WhatIfChannel {
  private worker: Worker | null = null;
  private readonly waiting = new Map<number, { readonly done: (answer: unknown) => void; readonly fail: (problem: Problem) => void }>();
  private next = 0;

  /** Asks the thread; it is started by the first question. Fails with a {@link Problem}. */
  ask<A extends About>(question: Extract<Question, { about: A }>): Promise<Asked[A]['answer']> {
    const worker = this.worker ?? this.start();
    this.next += 1;
    const id = this.next;
    const answer = new Promise<unknown>((done, fail) => this.waiting.set(id, { done, fail }));
    worker.postMessage({ id, question } satisfies ToDesk);
    return answer as Promise<Asked[A]['answer']>;
  }

  private start(): Worker {
    const worker = new Worker(new URL('./what-if.worker', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<FromDesk>) => {
      const waiting = this.waiting.get(data.id);
      this.waiting.delete(data.id);
      if (data.refused) waiting?.fail(new Problem(data.refused.code, data.refused.message, fieldsOf(data.refused), {}));
      else waiting?.done(data.answer);
    };
    worker.onerror = (event) => {
      this.worker = null;
      for (const each of this.waiting.values())
        each.fail(new Problem('fault', `The copy of the plan was lost: ${event.message}. Take a new one.`, {}, {}));
      this.waiting.clear();
    };
    this.worker = worker;
    return worker;
  }
}

function fieldsOf({ field, message }: Refused): Record<string, string> {
  return field === null ? {} : { [field]: message };
}
