/**
 * A route as both sides know it: the server parses and answers by it, the web calls by it, and the API description is
 * generated from it.
 */
import type { z } from 'zod';
import type { Right } from './rights';
import { nothing } from './schemas';

export type Schema = z.ZodType;

export interface RouteDefinition<P extends Schema, Q extends Schema, B extends Schema, A extends Schema> {
  readonly method: 'get' | 'post' | 'put' | 'delete';
  /** Express style, below `/api`: `/selling/orders/:id`. */
  readonly path: string;
  readonly summary: string;
  /** The right it takes; `signedIn` for everybody who is, `public` for everybody. */
  readonly right: Right | 'signedIn' | 'public';
  /** The most bytes that its body may have, where that does not follow from what it takes: see the server's `body.ts`. */
  readonly mostBytes?: number;
  readonly params: P;
  readonly query: Q;
  readonly body: B;
  readonly answer: A;
}

export type AnyRoute = RouteDefinition<Schema, Schema, Schema, Schema>;
export type ParamsOf<R extends AnyRoute> = z.output<R['params']>;
export type QueryOf<R extends AnyRoute> = z.output<R['query']>;
export type BodyOf<R extends AnyRoute> = z.output<R['body']>;
export type AnswerOf<R extends AnyRoute> = z.output<R['answer']>;
export type QueryIn<R extends AnyRoute> = z.input<R['query']>;
export type BodyIn<R extends AnyRoute> = z.input<R['body']>;

type Given = Pick<AnyRoute, 'method' | 'path' | 'summary' | 'right' | 'mostBytes'> & Partial<Pick<AnyRoute, 'params' | 'query' | 'body' | 'answer'>>;
type Filled<G extends Given, K extends 'params' | 'query' | 'body' | 'answer'> = G[K] extends Schema ? G[K] : typeof nothing;

/** Defines a route; parts that are not given say nothing. */
export function route<const G extends Given>(
  given: G,
): RouteDefinition<Filled<G, 'params'>, Filled<G, 'query'>, Filled<G, 'body'>, Filled<G, 'answer'>> {
  const filled = { params: nothing, query: nothing, body: nothing, answer: nothing, ...given };
  return filled;
}
