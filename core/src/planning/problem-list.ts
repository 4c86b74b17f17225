import { byCodePoint, type DataProblem, type DataProblemCode } from './problem';

/** Collects data problems; the same code and subject once. */
export class ProblemList {
  private readonly found = new Map<string, DataProblem>();

  add(code: DataProblemCode, subject: string, message: string): void {
    const key = JSON.stringify([code, subject]);
    if (!this.found.has(key)) this.found.set(key, { code, subject, message });
  }

  sorted(): DataProblem[] {
    return [...this.found.values()].sort((a, b) => byCodePoint(a.code, b.code) || byCodePoint(a.subject, b.subject));
  }
}
