/** What can be computed without a company: `terrace compute`. */
import { readFileSync } from 'node:fs';
import { costProblem, forecastProblem, planProblem } from '@terrace/contract';
import { Refusal, computeCost, computeForecast, plan } from '@terrace/core';
import { Misuse } from './misuse';

/** What can be computed: each reads its problem and gives its result. */
const COMPUTATIONS: Readonly<Record<string, (json: unknown, where: string) => object>> = {
  plan: (json, where) => plan(readProblem(planProblem, json, `${where}not a planning problem`)),
  forecast: (json, where) => computeForecast(readProblem(forecastProblem, json, `${where}not a history to forecast from`)),
  cost: (json, where) => computeCost(readProblem(costProblem, json, `${where}not a sequence of moves`)),
};

/** Computes what is on standard input; with `lines`, one problem a line. Gives the exit code. */
export function compute(name: string, lines: boolean): number {
  const computation = Object.entries(COMPUTATIONS).find(([known]) => known === name)?.[1];
  if (!computation) throw new Misuse(`there is nothing called "${name}" to compute: ${Object.keys(COMPUTATIONS).join(' and ')} can be`);
  const input = readFileSync(0, 'utf8');
  const texts = lines ? input.split('\n').filter((line) => line.trim() !== '') : [input];
  texts.forEach((text, index) => {
    const where = lines ? `line ${index + 1}: ` : '';
    process.stdout.write(`${JSON.stringify(resultOf(computation, text, where), null, lines ? 0 : 1)}\n`);
  });
  return 0;
}

function resultOf(computation: (json: unknown, where: string) => object, text: string, where: string): object {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    throw new Misuse(`${where}not JSON: ${error instanceof Error ? error.message : ''}`);
  }
  try {
    return computation(json, where);
  } catch (error) {
    if (error instanceof Refusal) throw new Misuse(`${where}${error.message}`);
    throw error;
  }
}

interface Shape<T> {
  readonly safeParse: (
    json: unknown,
  ) => { success: true; data: T } | { success: false; error: { issues: readonly { path: readonly PropertyKey[]; message: string }[] } };
}

function readProblem<T>(shape: Shape<T>, json: unknown, wrong: string): T {
  const read = shape.safeParse(json);
  if (read.success) return read.data;
  throw new Misuse(
    `${wrong}: ${read.error.issues
      .slice(0, 5)
      .map((issue) => `${issue.path.join('.') || 'problem'}: ${issue.message}`)
      .join('; ')}`,
  );
}
