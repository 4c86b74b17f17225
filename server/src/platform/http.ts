/** Binds a route of the contract to a service: parse, check the right, call it, answer. */
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { Router, type Request, type RequestHandler, type Response } from 'express';
import type { AnswerOf, AnyRoute, BodyOf, ListQuery, ParamsOf, QueryOf } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import { fingerprintOf, type CommandKey, type Commands } from './commands';
import { settingOf } from './settings';
import { readColumns, writeSheet, type ListPapers } from './sheet';
import { NOBODY, assertMay, type Actor, type Work } from './work';

export interface Input<R extends AnyRoute> {
  readonly params: ParamsOf<R>;
  readonly query: QueryOf<R>;
  readonly body: BodyOf<R>;
}

const MOST_ROWS_IN_A_FILE = 200_000;
const KEY = /^[\w-]{8,100}$/;

export class Binder {
  private readonly rooms = new Map<string, Router>();

  constructor(
    readonly router: Router,
    readonly commands: Commands,
    /** Checks each answer against the contract; for tests. */
    private readonly checkAnswers: boolean,
    private readonly papers: ListPapers,
  ) {}

  /** A route that reads. */
  read<R extends AnyRoute>(route: R, service: (work: Work, input: Input<R>) => AnswerOf<R>): void {
    this.bind(route, (request, response) => {
      const work = this.commands.look(actorOf(request, route));
      assertRight(route, work.actor);
      this.send(route, response, service(work, this.inputOf(route, request)));
    });
  }

  /** A route that changes something: one transaction, once per idempotency key. */
  command<R extends AnyRoute>(route: R, service: (work: Work, input: Input<R>) => AnswerOf<R>): void {
    this.bind(route, async (request, response) => {
      const actor = actorOf(request, route);
      const once = keyOf(request);
      assertRight(route, actor);
      const input = this.inputOf(route, request);
      this.send(route, response, await this.commands.performTogether(actor, (work) => service(work, input), once));
    });
  }

  /** A command that is answered by a look at what it changed. */
  change<R extends AnyRoute>(route: R, service: (work: Work, input: Input<R>) => unknown, look: (work: Work, input: Input<R>) => AnswerOf<R>): void {
    this.command(route, (work, input) => {
      service(work, input);
      return look(work, input);
    });
  }

  /** A route that waits for work elsewhere; it performs its own commands. */
  task<R extends AnyRoute>(route: R, service: (commands: Commands, actor: Actor, input: Input<R>, once: CommandKey) => Promise<AnswerOf<R>>): void {
    this.bind(route, async (request, response) => {
      const actor = actorOf(request, route);
      const once = keyOf(request);
      assertRight(route, actor);
      this.send(route, response, await service(this.commands, actor, this.inputOf(route, request), once));
    });
  }

  /** A route that reads what takes a while to come by. */
  ask<R extends AnyRoute>(route: R, service: (actor: Actor, input: Input<R>) => Promise<AnswerOf<R>>): void {
    this.bind(route, async (request, response) => {
      const actor = actorOf(request, route);
      assertRight(route, actor);
      this.send(route, response, await service(actor, this.inputOf(route, request)));
    });
  }

  /** A route whose answer comes as JSON that is written already, in parts; large, so it goes out part by part. */
  written<R extends AnyRoute>(route: R, service: (actor: Actor, input: Input<R>) => Promise<readonly Uint8Array[]>): void {
    this.bind(route, async (request, response) => {
      const actor = actorOf(request, route);
      assertRight(route, actor);
      const parts = await service(actor, this.inputOf(route, request));
      if (this.checkAnswers) route.answer.parse(JSON.parse(Buffer.concat(parts).toString()));
      response.type('json');
      await pipeline(Readable.from(parts, { objectMode: false }), response);
    });
  }

  /** A list, as a page of JSON or, when asked for, all of it as a file. */
  list<R extends AnyRoute>(
    route: R,
    service: (work: Work, input: Input<R> & { query: ListQuery }) => AnswerOf<R> & { rows: readonly object[]; total: number },
  ): void {
    this.bind(route, async (request, response) => {
      const work = this.commands.look(actorOf(request, route));
      assertRight(route, work.actor);
      const input = this.inputOf(route, request) as Input<R> & { query: ListQuery };
      const { file } = input.query;
      if (file === undefined) {
        this.send(route, response, service(work, input));
        return;
      }
      const all = service(work, { ...input, query: { ...input.query, offset: 0, limit: MOST_ROWS_IN_A_FILE } });
      const rows = all.rows as readonly Readonly<Record<string, unknown>>[];
      const columns = readColumns(input.query.columns, rows[0]);
      const { type, content } =
        file === 'pdf'
          ? { type: 'pdf', content: await this.papers.write(this.headOf(route, work, input.query), columns, rows) }
          : await writeSheet(file, columns, rows);
      const name = `${route.path.split('/').pop() ?? 'list'}-${work.today}.${file}`;
      response.type(type).set('content-disposition', `attachment; filename="${name}"`).send(content);
    });
  }

  private headOf(route: AnyRoute, work: Work, { find = '' }: ListQuery): { company: string; title: string; day: string; narrowed: string } {
    return {
      company: settingOf(work.store, 'company') ?? 'Terrace',
      title: route.summary,
      day: work.today,
      narrowed: find === '' ? '' : `“${find}”`,
    };
  }

  private bind(route: AnyRoute, handle: (request: Request, response: Response) => void | Promise<void>): void {
    const handler: RequestHandler = (request, response) => handle(request, response);
    const [, room = '', rest = ''] = /^(\/[^/]+)(.*)$/.exec(route.path) ?? [];
    this.roomOf(room)[route.method](rest === '' ? '/' : rest, handler);
  }

  /** A router of its own for each first part of an address, so that a request is not compared with every route there is. */
  private roomOf(path: string): Router {
    let room = this.rooms.get(path);
    if (!room) {
      room = Router({ mergeParams: true });
      this.rooms.set(path, room);
      this.router.use(path, room);
    }
    return room;
  }

  private inputOf<R extends AnyRoute>(route: R, request: Request): Input<R> {
    return {
      params: route.params.parse(request.params) as ParamsOf<R>,
      query: route.query.parse(request.query) as QueryOf<R>,
      body: route.body.parse(request.body ?? {}) as BodyOf<R>,
    };
  }

  private send(route: AnyRoute, response: Response, answer: unknown): void {
    if (this.checkAnswers) route.answer.parse(answer);
    response.json(answer);
  }
}

function assertRight(route: AnyRoute, actor: Actor): void {
  if (route.right !== 'public' && route.right !== 'signedIn') assertMay(actor, route.right);
}

/** Who asks. Refuses `notSignedIn` but on public routes. */
function actorOf(request: Request, route: AnyRoute): Actor {
  const { actor } = request.session;
  if (actor) return actor;
  if (route.right === 'public') return NOBODY;
  throw new Refusal('notSignedIn', 'You are not signed in, or your session has ended: sign in again.');
}

function keyOf(request: Request): CommandKey {
  const key = request.get('idempotency-key');
  if (key === undefined || !KEY.test(key))
    throw new Refusal('noKey', 'Every command takes an idempotency key: 8 to 100 letters and figures in the header Idempotency-Key.');
  return { key, fingerprint: fingerprintOf(request.method, request.originalUrl, request.body) };
}
