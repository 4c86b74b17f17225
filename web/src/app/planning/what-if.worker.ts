/// <reference lib="webworker" />
/** The thread that keeps a copy of the plan, so that supposing things holds nobody up. */
import type { PlanCopyView, ProblemDetails } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import type { FromDesk, Question, ToDesk } from './what-if.channel';
import { WhatIfDesk } from './what-if.desk';

let desk: WhatIfDesk | null = null;

async function answerTo(question: Question): Promise<unknown> {
  if (question.about === 'begin') {
    const response = await fetch(question.address, { credentials: 'same-origin' });
    if (!response.ok) {
      const problem = (await response.json()) as Partial<ProblemDetails>;
      throw new Refusal(problem.code ?? 'fault', problem.detail ?? `The server answered ${response.status}.`);
    }
    desk = new WhatIfDesk((await response.json()) as PlanCopyView);
    return desk.words();
  }
  if (!desk) throw new Refusal('noCopy', 'There is no copy of the plan yet: take one first.');
  if (question.about === 'suppose') return desk.suppose(question.list);
  return question.about === 'find' ? desk.find(question.text) : desk.rule(question.item, question.warehouse);
}

function refusedOf(error: unknown): FromDesk['refused'] {
  if (error instanceof Refusal) {
    const { field } = error.details;
    return { code: error.code, message: error.message, field: typeof field === 'string' ? field : null };
  }
  return { code: 'fault', message: error instanceof Error ? error.message : String(error), field: null };
}

addEventListener('message', ({ data }: MessageEvent<ToDesk>) => {
  void answerTo(data.question)
    .then((answer) => postMessage({ id: data.id, answer } satisfies FromDesk))
    .catch((error: unknown) => postMessage({ id: data.id, refused: refusedOf(error) ?? null }));
});
