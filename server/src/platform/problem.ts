/** Errors leave the server as RFC 9457 problem details. */
import 'pino-http';
import type { ErrorRequestHandler, Request, Response } from 'express';
import multer from 'multer';
import { ZodError } from 'zod';
import type { ProblemDetails } from '@terrace/contract';
import { Refusal } from '@terrace/core';

const STATUS: Readonly<Record<string, number>> = {
  notSignedIn: 401,
  wrongPassword: 401,
  notAllowed: 403,
  crossSite: 403,
  notFound: 404,
  staleVersion: 409,
  heldByOthers: 409,
  notEnough: 409,
  wrongState: 409,
  tooManyAttempts: 429,
  fileTooLarge: 413,
};

/** The problem details of an error; those of an unknown error say no more than a reference to the log. */
export function problemOf(error: unknown, reference: string): ProblemDetails & { status: number } {
  if (error instanceof Refusal) {
    const status = STATUS[error.code] ?? 422;
    const field = error.details['field'];
    return {
      type: `/problems/${error.code}`,
      title: 'This can’t be done',
      status,
      detail: error.message,
      code: error.code,
      details: { ...error.details },
      errors: typeof field === 'string' ? [{ field, message: error.message }] : [],
    };
  }
  if (error instanceof ZodError) {
    const errors = error.issues.map((issue) => ({ field: issue.path.join('.'), message: issue.message }));
    const said = error.issues.map((issue) => (issue.path.length > 0 ? `${placeWords(issue.path)}: ${issue.message}` : issue.message));
    return {
      type: '/problems/badInput',
      title: 'Some of it can’t be read',
      status: 400,
      code: 'badInput',
      detail: said.join(' '),
      errors,
    };
  }
  if (error instanceof multer.MulterError) {
    return {
      type: '/problems/fileTooLarge',
      title: 'This file can’t be kept',
      status: 413,
      code: 'fileTooLarge',
      detail: 'The file is too large: the most is 10 MB.',
      errors: [{ field: 'file', message: 'The most is 10 MB.' }],
    };
  }
  if (isBodyError(error)) {
    const large = error.type === 'entity.too.large';
    return {
      type: '/problems/badBody',
      title: 'The request can’t be read',
      status: large ? 413 : 400,
      code: 'badBody',
      detail: large ? 'The request is too large.' : 'The request is not JSON.',
      errors: [],
    };
  }
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

function isBodyError(error: unknown): error is { type: string } {
  return typeof error === 'object' && error !== null && 'type' in error && typeof error.type === 'string' && error.type.startsWith('entity.');
}

/** The last handler: answers with problem details and logs what nobody expected. */
export const answerProblem: ErrorRequestHandler = (error: unknown, request: Request, response: Response, next) => {
  if (response.headersSent) {
    next(error);
    return;
  }
  const problem = problemOf(error, typeof request.id === 'string' ? request.id : 'unknown');
  if (problem.status === 500)
    request.log.error(
      { id: request.id, method: request.method, url: request.originalUrl, err: error, reference: problem.reference },
      'unknown error',
    );
  response.status(problem.status).type('application/problem+json').send(JSON.stringify(problem));
};
