/** Reads what was sent, once it is known who sent it and that they may: JSON of a bounded size and depth. */
import express, { type Request, type RequestHandler, type Response } from 'express';
import { z } from 'zod';
import type { AnyRoute } from '@terrace/contract';
import { Refusal } from '@terrace/core';

const MOST_BYTES = 128 * 1024;
/** As many as a document of a thousand lines has, or ten thousand serial numbers. */
const MOST_BYTES_OF_MANY = 2 * 1024 * 1024;
/** Deeper than anything that is ever sent. */
const DEEPEST = 24;

const [QUOTE, ESCAPE] = [0x22, 0x5c];
const OPENING = new Set([0x5b, 0x7b]);
const CLOSING = new Set([0x5d, 0x7d]);

/** Refuses `tooDeep` before anything is made of it: what is nested a thousand times over costs far more than its size. */
export function assertShallow(json: Buffer): void {
  let depth = 0;
  let within = false;
  for (let at = 0; at < json.length; at += 1) {
    const sign = json[at] ?? 0;
    if (within) {
      if (sign === ESCAPE) at += 1;
      else if (sign === QUOTE) within = false;
    } else if (sign === QUOTE) within = true;
    else if (OPENING.has(sign)) {
      depth += 1;
      if (depth > DEEPEST) throw new Refusal('tooDeep', `The request is nested more than ${DEEPEST} times: nothing here takes that.`);
    } else if (CLOSING.has(sign)) depth -= 1;
  }
}

const mostOf = new WeakMap<AnyRoute['body'], number>();

/** How many bytes a route takes: little, but where its body has lists. */
export function mostBytesOf({ body, mostBytes }: AnyRoute): number {
  if (mostBytes !== undefined) return mostBytes;
  let most = mostOf.get(body);
  if (most === undefined) {
    const takesMany = JSON.stringify(z.toJSONSchema(body, { io: 'input', unrepresentable: 'any' })).includes('"type":"array"');
    most = takesMany ? MOST_BYTES_OF_MANY : MOST_BYTES;
    mostOf.set(body, most);
  }
  return most;
}

const readers = new Map<number, RequestHandler>();

function readerOf(mostBytes: number): RequestHandler {
  let reader = readers.get(mostBytes);
  if (!reader) {
    reader = express.json({ limit: mostBytes, verify: (_request, _response, json) => assertShallow(json) });
    readers.set(mostBytes, reader);
  }
  return reader;
}

/** Reads the body of a request, at most so large. */
export function readBody(request: Request, response: Response, mostBytes: number): Promise<void> {
  if (request.method === 'GET' || request.method === 'HEAD') return Promise.resolve();
  return new Promise((done, fail) => {
    void readerOf(mostBytes)(request, response, (error?: unknown) => {
      if (error === undefined) done();
      else fail(error instanceof Error ? error : new Error('the body can’t be read'));
    });
  });
}
