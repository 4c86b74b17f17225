import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { plan, type PlanProblem, type PlanResult } from './index';

interface Example {
  readonly problem: PlanProblem;
  readonly result: PlanResult;
}

const folder = new URL('./examples/', import.meta.url);

describe('worked examples', () => {
  for (const name of readdirSync(folder)) {
    it(name, () => {
      const { problem, result } = JSON.parse(readFileSync(new URL(name, folder), 'utf8')) as Example;
      const got = plan(problem);
      expect(got.suggestions).toEqual(result.suggestions);
      expect(got.exceptions).toEqual(result.exceptions);
      expect(got.problems.map(({ code, subject }) => ({ code, subject }))).toEqual(result.problems.map(({ code, subject }) => ({ code, subject })));
    });
  }
});
