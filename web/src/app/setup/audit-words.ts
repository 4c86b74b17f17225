/** What the audit log tells of, in words. */
import type { AuditKind } from '@terrace/contract';

const WORDS: Readonly<Record<AuditKind, string>> = {
  signedIn: 'Signed in',
  signInFailed: 'Sign-in failed',
  signInSlowed: 'Sign-in put off',
  signedOut: 'Signed out',
  rightRefused: 'Right refused',
  crossSite: 'Came from another site',
  setupChanged: 'Set-up changed',
  fileTaken: 'File taken out',
  fileSent: 'File sent in',
};

export function auditWords(what: unknown): string {
  return typeof what === 'string' && Object.hasOwn(WORDS, what) ? WORDS[what as AuditKind] : String(what);
}

const OUTCOMES: Readonly<Record<string, string>> = {
  done: 'done',
  wrongPassword: 'wrong password',
  unknownName: 'no such name',
  tooManyAttempts: 'to wait first',
  notAllowed: 'not allowed',
  crossSite: 'refused',
  many: 'refused',
};

export function outcomeWords(outcome: unknown): string {
  return typeof outcome === 'string' && Object.hasOwn(OUTCOMES, outcome) ? (OUTCOMES[outcome] ?? outcome) : String(outcome);
}
