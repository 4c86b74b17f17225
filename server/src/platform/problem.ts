/** Errors leave the server as RFC 9457 problem details. */
import 'pino-http';
import type { ErrorRequestHandler, Request, Response } from 'express';
import { ZodError } from 'zod';
import type { AuditKind, ProblemDetails } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import type { Audit } from './audit';
import { planningAnew } from './work';

const STATUS: Readonly<Record<string, number>> = {
  notSignedIn: 401,
  wrongPassword: 401,
  notAllowed: 403,
  notHere: 403,
  notByToken: 403,
  lastAdministrator: 409,
  crossSite: 403,
  notFound: 404,
  staleVersion: 409,
  heldByOthers: 409,
  notEnough: 409,
  wrongState: 409,
  tooManyAttempts: 429,
  fileTooLarge: 413,
  busyForYou: 429,
  planningAnew: 503,
};

const MOST_ISSUES = 20;
const MOST_SAID = 2000;

/** What is repeated of what somebody sent is never longer than anybody reads. */
function clipped(text: string): string {
  return text.length > MOST_SAID ? `${text.slice(0, MOST_SAID)}…` : text;
}

/** The problem details of an error; those of an unknown error say no more than a reference to the log. */
export function problemOf(error: unknown, reference: string): ProblemDetails & { status: number } {
  if (error instanceof Refusal) {
    const status = STATUS[error.code] ?? 422;
    const field = error.details['field'];
    return {
      type: `/problems/${error.code}`,
      title: 'This can’t be done',
      status,
      detail: clipped(error.message),
      code: error.code,
      details: Object.fromEntries(Object.entries(error.details).map(([name, each]) => [name, typeof each === 'string' ? clipped(each) : each])),
      errors: typeof field === 'string' ? [{ field, message: clipped(error.message) }] : [],
    };
  }
  if (error instanceof ZodError) {
    const issues = error.issues.slice(0, MOST_ISSUES);
    const errors = issues.map((issue) => ({ field: issue.path.map(String).join('.').slice(0, 200), message: clipped(issue.message) }));
    const said = issues.map((issue) => (issue.path.length > 0 ? `${placeWords(issue.path)}: ${issue.message}` : issue.message));
    return {
      type: '/problems/badInput',
      title: 'Some of it can’t be read',
      status: 400,
      code: 'badInput',
      detail: clipped(said.join(' ')),
      errors,
    };
  }
  const said = badRequest(error) ?? badMachine(error);
  if (said) return { type: `/problems/${said.code}`, errors: [], ...said };
  return {
    type: '/problems/fault',
    title: 'Something went wrong here',
    status: 500,
    code: 'fault',
    detail: `Nothing was changed. Try again; if it stays, tell support the reference ${reference}.`,
    reference,
    errors: [],
  };
}

/** Where in what was sent, in words: `lines.0.itemId` is "Line 1, item". */
function placeWords(path: readonly PropertyKey[]): string {
  const words: string[] = [];
  for (const step of path) {
    const list = words.at(-1);
    if (typeof step === 'number' && list !== undefined) words[words.length - 1] = `${list.replace(/(ss)es$|s$/, '$1')} ${step + 1}`;
    else
      words.push(
        String(step)
          .replace(/Id$/, '')
          .replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`),
      );
  }
  const text = words.join(', ');
  return text.charAt(0).toUpperCase() + text.slice(1);
}

interface Said {
  readonly title: string;
  readonly status: number;
  readonly code: string;
  readonly detail: string;
}

const NOT_READ = 'The request can’t be read';

/** What the web's own parts say of a request that is none: an address that is not encoded right, a body that is no JSON, too large, or cut short. */
function badRequest(error: unknown): Said | null {
  if (typeof error !== 'object' || error === null || !('status' in error)) return null;
  const { status } = error;
  const type = 'type' in error && typeof error.type === 'string' ? error.type : '';
  if (typeof status !== 'number' || status < 400 || status > 499) return null;
  if (status === 413) return { title: NOT_READ, status, code: 'badBody', detail: 'The request is too large.' };
  if (status === 415)
    return { title: NOT_READ, status, code: 'badBody', detail: 'The request is written in a way that is not read here: send JSON in UTF-8.' };
  if (type === 'request.aborted') return { title: NOT_READ, status, code: 'badBody', detail: 'The request was cut short.' };
  if (type !== '') return { title: NOT_READ, status, code: 'badBody', detail: 'The request is not JSON.' };
  return { title: NOT_READ, status, code: 'badAddress', detail: 'The address can’t be read: some of it is not encoded as addresses are.' };
}

/** What keeps the machine from doing it, in words; who asked can't help it. */
const BAD_MACHINE: readonly { readonly codes: RegExp; readonly said: Said }[] = [
  {
    codes: /^(SQLITE_FULL|ENOSPC|EDQUOT)/,
    said: {
      title: 'The disk is full',
      status: 507,
      code: 'diskFull',
      detail: 'The disk of the server is full: nothing was changed. Whoever runs Terrace has to make room; then try again.',
    },
  },
  {
    codes: /^(SQLITE_BUSY|SQLITE_LOCKED)/,
    said: { title: 'Busy', status: 503, code: 'busy', detail: 'Somebody else was writing for too long: nothing was changed. Try again in a moment.' },
  },
  {
    codes: /^(SQLITE_READONLY|EROFS|EACCES|EPERM)/,
    said: {
      title: 'Nothing can be written',
      status: 503,
      code: 'readOnly',
      detail: 'The server may not write into its data folder: nothing was changed. Whoever runs Terrace has to look at its permissions.',
    },
  },
  {
    codes: /^(SQLITE_CORRUPT|SQLITE_NOTADB|SQLITE_IOERR)/,
    said: {
      title: 'The data can’t be read',
      status: 503,
      code: 'damaged',
      detail: 'A file of the database can’t be read: nothing was changed. Whoever runs Terrace finds in its log which, and restores the last backup.',
    },
  },
];

function badMachine(error: unknown): Said | null {
  if (!(error instanceof Error) || !('code' in error) || typeof error.code !== 'string') return null;
  const { code } = error;
  return BAD_MACHINE.find(({ codes }) => codes.test(code))?.said ?? null;
}

export interface ProblemParts {
  readonly audit: Audit;
  /** Whether what went wrong is that the plan can't be read, which is mended by itself. */
  readonly isSpoilt: (error: unknown) => boolean;
  /** Hears of it where a page of the database itself can't be read. */
  readonly damaged: () => void;
}

/** What of a refusal belongs into the audit log. */
const AUDITED: Readonly<Record<string, AuditKind>> = { notAllowed: 'rightRefused', notHere: 'rightRefused', crossSite: 'crossSite' };

/** The last handler: answers with problem details and logs what nobody expected. */
export function answerProblem({ audit, isSpoilt, damaged }: ProblemParts): ErrorRequestHandler {
  return (raised: unknown, request: Request, response: Response, next) => {
    // Whoever asked has gone, so that it was left off: nobody is there to answer.
    if (response.destroyed && raised instanceof Error && raised.name === 'AbortError') {
      response.locals['outcome'] = 'gone';
      return;
    }
    const error = isSpoilt(raised) ? planningAnew() : raised;
    if (isCorrupt(error)) damaged();
    if (response.headersSent) {
      next(error);
      return;
    }
    const problem = problemOf(error, typeof request.id === 'string' ? request.id : 'unknown');
    if (problem.status >= 500 && problem.code !== 'planningAnew')
      request.log.error(
        { id: request.id, method: request.method, url: request.originalUrl, err: error, reference: problem.reference },
        problem.code === 'fault' ? 'unknown error' : problem.title,
      );
    const audited = Object.hasOwn(AUDITED, problem.code) ? AUDITED[problem.code] : undefined;
    if (audited) audit.noteOf(request, audited, { outcome: problem.code, detail: rightIn(problem) });
    const seconds = problem.details?.['seconds'];
    if (typeof seconds === 'number') response.set('retry-after', String(seconds));
    response.locals['outcome'] = problem.code;
    response.status(problem.status).type('application/problem+json').send(JSON.stringify(problem));
  };
}

function isCorrupt(error: unknown): boolean {
  return error instanceof Error && 'code' in error && typeof error.code === 'string' && /^SQLITE_(CORRUPT|NOTADB)/.test(error.code);
}

function rightIn({ details }: ProblemDetails): string {
  const right = details?.['right'];
  return typeof right === 'string' ? right : '';
}
