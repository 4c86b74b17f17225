import '@angular/compiler';
import { describe, expect, it } from 'vitest';
import { auditWords, outcomeWords } from '../setup/audit-words';
import { attemptWords } from './attempts';

describe('what was tried', () => {
  it('is told to whose name it was, with how often, when and from where', () => {
    const lastAt = '2027-02-25T08:30:00.000Z';
    expect(attemptWords({ count: 1, lastAt, from: '10.0.0.9' })).toMatch(
      /^One attempt to sign in .* on 2[456] Feb .* from 10\.0\.0\.9\. If that was not you/,
    );
    expect(attemptWords({ count: 12, lastAt, from: '10.0.0.9' })).toMatch(/^12 attempts/);
  });

  it('has words in the log, and is shown as it is where it has none', () => {
    expect([auditWords('signInFailed'), auditWords('constructor'), outcomeWords('wrongPassword'), outcomeWords('toString')]).toEqual([
      'Sign-in failed',
      'constructor',
      'wrong password',
      'toString',
    ]);
  });
});
