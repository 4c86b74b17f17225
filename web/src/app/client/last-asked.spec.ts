import { Subject, of, throwError } from 'rxjs';
import { describe, expect, it } from 'vitest';
import { lastAsked } from './last-asked';

describe('asking one question at a time', () => {
  it('takes the answer to the last one only, in whatever order answers come', () => {
    const [first, second] = [new Subject<string>(), new Subject<string>()];
    const taken: string[] = [];
    const ask = lastAsked();
    for (const question of [first, second]) ask(question, { next: (answer) => taken.push(answer) });
    second.next('second');
    first.next('first');
    expect(taken).toEqual(['second']);
    expect([first.observed, second.observed]).toEqual([false, true]);
  });

  it('hears what refuses, and asks again after it', () => {
    const heard: unknown[] = [];
    const ask = lastAsked();
    const taker = { next: (answer: string) => heard.push(answer), error: (error: unknown) => heard.push(error) };
    ask(
      throwError(() => 'refused'),
      taker,
    );
    ask(of('answered'), taker);
    expect(heard).toEqual(['refused', 'answered']);
  });
});
