/// <reference lib="webworker" />
/** The thread that keeps a copy of the plan, so that supposing things holds nobody up. */
import type { PlanCopyView, ProblemDetails } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import type { FromDesk, Question, ToDesk } from './what-if.channel';
import { WhatIfDesk } from './what-if.desk';

/** The desk on the newest copy; whatever is asked meanwhile waits for it. */
let desk: Promise<WhatIfDesk> | null = null;

async function takeCopy(address: string): Promise<WhatIfDesk> {
  const response = await fetch(address, { credentials: 'same-origin' });
  if (!response.ok) {
    const problem = (await response.json()) as Partial<ProblemDetails>;
    throw new Refusal(problem.code ?? 'fault', problem.detail ?? `The server answered ${response.status}.`);
  }
  return new WhatIfDesk((await response.json()) as PlanCopyView);
}

async function answerTo(question: Question): Promise<unknown> {
  if (question.about === 'begin') desk = takeCopy(question.address);
  if (!desk) throw new Refusal('noCopy', 'There is no copy of the plan yet: take one first.');
  const at = await desk;
  switch (question.about) {
    case 'begin':
      return at.words();
    case 'suppose':
      return at.suppose(question.list);
    case 'find':
      return at.find(question.text);
    case 'rule':
      return at.rule(question.item, question.warehouse);
  }
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
