/** Binds a route of the contract to a service: parse, check the right, call it, answer. */
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { Router, type Request, type RequestHandler, type Response } from 'express';
import type { AnswerOf, AnyRoute, BodyOf, ListQuery, ParamsOf, QueryOf } from '@terrace/contract';
import { Refusal } from '@terrace/core';
import type { Audit } from './audit';
import { mostBytesOf, readBody } from './body';
import { fingerprintOf, type CommandKey, type Commands } from './commands';
import type { ListFiles } from './list-files';
import type { Watch } from './watch';
import { actorOf } from './who';
import { NOBODY, assertMay, type Actor, type Work } from './work';

export interface Input<R extends AnyRoute> {
  readonly params: ParamsOf<R>;
  readonly query: QueryOf<R>;
  readonly body: BodyOf<R>;
}

const KEY = /^[\w-]{8,100}$/;

/** What a list's rows are read by. */
export type ListService<R extends AnyRoute = AnyRoute> = (
  work: Work,
  input: Input<R> & { query: ListQuery },
) => AnswerOf<R> & { rows: readonly object[]; total: number };

/** What routes are bound with: the server's {@link Binder}, or a thread that only wants to know how lists are read. */
export interface RouteBinder {
  readonly commands: Commands;
  readonly read: Binder['read'];
  readonly command: Binder['command'];
  readonly change: Binder['change'];
  readonly task: Binder['task'];
  readonly ask: Binder['ask'];
  readonly written: Binder['written'];
  readonly list: Binder['list'];
}

export interface BinderParts {
  readonly commands: Commands;
  readonly audit: Audit;
  readonly watch: Watch;
  readonly files: ListFiles;
  /** Whether what went wrong is that the plan can't be read, which is mended by itself. */
  readonly isSpoilt: (error: unknown) => boolean;
  /** Checks each answer against the contract; for tests. */
  readonly checkAnswers: boolean;
}

export class Binder implements RouteBinder {
  private readonly rooms = new Map<string, Router>();
  readonly commands: Commands;

  constructor(
    readonly router: Router,
    private readonly parts: BinderParts,
  ) {
    this.commands = parts.commands;
  }

  /** A route that reads. */
  read<R extends AnyRoute>(route: R, service: (work: Work, input: Input<R>) => AnswerOf<R>): void {
    this.bind(route, (actor, request, response) => {
      const work = this.commands.look(actor);
      const input = this.inputOf(route, request);
      this.send(
        route,
        response,
        this.parts.watch.during(route.path, () => service(work, input)),
      );
    });
  }

  /** A route that changes something: one transaction, once per idempotency key. */
  command<R extends AnyRoute>(route: R, service: (work: Work, input: Input<R>) => AnswerOf<R>): void {
    this.bind(route, async (actor, request, response) => {
      const once = keyOf(request);
      const input = this.inputOf(route, request);
      let setUp: string[] = [];
      const answer = await this.commands.performTogether(
        actor,
        (work) =>
          this.parts.watch.during(route.path, () => {
            const done = service(work, input);
            setUp = work.events.flatMap(({ topic, what }) => (topic === 'setup' ? [what] : []));
            return done;
          }),
        once,
      );
      if (setUp.length > 0) this.parts.audit.noteOf(request, 'setupChanged', { detail: [...new Set(setUp)].join(', ') });
      this.send(route, response, answer);
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
    this.bind(route, async (actor, request, response) => {
      const once = keyOf(request);
      this.send(route, response, await service(this.commands, actor, this.inputOf(route, request), once));
    });
  }

  /** A route that reads what takes a while to come by. */
  ask<R extends AnyRoute>(route: R, service: (actor: Actor, input: Input<R>) => Promise<AnswerOf<R>>): void {
    this.bind(route, async (actor, request, response) => {
      this.send(route, response, await service(actor, this.inputOf(route, request)));
    });
  }

  /** A route whose answer comes as JSON that is written already, in parts; large, so it goes out part by part. */
  written<R extends AnyRoute>(route: R, service: (actor: Actor, input: Input<R>) => Promise<readonly Uint8Array[]>): void {
    this.bind(route, async (actor, request, response) => {
      const parts = await service(actor, this.inputOf(route, request));
      if (this.parts.checkAnswers) assertFits(route, JSON.parse(Buffer.concat(parts).toString()));
      response.type('json');
      await pipeline(Readable.from(parts, { objectMode: false }), response);
    });
  }

  /** A list, as a page of JSON or, when asked for, all of it as a file, which is read and written in a thread. */
  list<R extends AnyRoute>(route: R, service: ListService<R>): void {
    this.bind(route, async (actor, request, response) => {
      const work = this.commands.look(actor);
      const input = this.inputOf(route, request) as Input<R> & { query: ListQuery };
      const { file } = input.query;
      if (file === undefined) {
        this.send(
          route,
          response,
          this.parts.watch.during(route.path, () => service(work, input)),
        );
        return;
      }
      const { type, content, rows } = await this.parts.files.write(route, work, input, whileOpen(response));
      this.parts.audit.noteOf(request, 'fileTaken', { detail: `${rows} ${rows === 1 ? 'row' : 'rows'} as ${file.toUpperCase()}` });
      const name = `${route.path.split('/').pop() ?? 'list'}-${work.today}.${file}`;
      response.type(type).set('content-disposition', `attachment; filename="${name}"`).send(content);
    });
  }

  /** Who asks, whether they may, and only then what they sent. */
  private bind(route: AnyRoute, handle: (actor: Actor, request: Request, response: Response) => void | Promise<void>): void {
    const handler: RequestHandler = async (request, response) => {
      const actor = route.right === 'public' ? (request.actor ?? NOBODY) : actorOf(request);
      assertRight(route, actor);
      await readBody(request, response, mostBytesOf(route));
      try {
        await handle(actor, request, response);
      } catch (error) {
        if (response.headersSent || !this.parts.isSpoilt(error)) throw error;
        // There is no plan now: whoever needs it says so, everybody else goes on without noticing.
        await handle(actor, request, response);
      }
    };
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
    if (this.parts.checkAnswers) assertFits(route, answer);
    response.json(answer);
  }
}

/** An answer that is not what the contract says is a fault of ours, and none of whoever asked. */
function assertFits(route: AnyRoute, answer: unknown): void {
  const read = route.answer.safeParse(answer);
  if (!read.success) throw new RangeError(`what ${route.path} answers does not fit the contract: ${read.error.message}`);
}

function assertRight(route: AnyRoute, actor: Actor): void {
  if (route.right !== 'public' && route.right !== 'signedIn') assertMay(actor, route.right);
}

/** Tells when whoever asked has gone, so that nothing is made for nobody. */
export function whileOpen(response: Response): AbortSignal {
  const gone = new AbortController();
  response.once('close', () => gone.abort());
  return gone.signal;
}

function keyOf(request: Request): CommandKey {
  const key = request.get('idempotency-key');
  if (key === undefined || !KEY.test(key))
    throw new Refusal('noKey', 'Every command takes an idempotency key: 8 to 100 letters and figures in the header Idempotency-Key.');
  return { key, fingerprint: fingerprintOf(request.method, request.originalUrl, request.body) };
}
