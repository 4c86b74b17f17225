/**
 * Server-sent events: what has changed, told to every open screen as soon as it is kept, as far as the person before it may
 * know. A stream ends with the session that it belongs to; one that is not read is closed, and opened again by the browser.
 */
import type { Response } from 'express';
import { heardBy, type LiveEvent } from '@terrace/contract';
import type { Actor } from './work';

const HEARTBEAT_MS = 25_000;
/** Browsers in which one person has Terrace open at once. */
const MOST_STREAMS = 5;
/** What may wait for somebody who does not read. */
const MOST_WAITING = 256 * 1024;

interface Listener {
  readonly response: Response;
  readonly sessionId: string;
  readonly userId: number;
}

export class LiveChannel {
  private readonly listeners = new Set<Listener>();
  private readonly heartbeat = setInterval(() => this.tell(() => ': still here\n\n'), HEARTBEAT_MS).unref();
  private sent = 0;

  constructor(
    /** Whose session it is, as they are now; nobody's where it has ended or they may not come in any more. */
    private readonly whose: (sessionId: string) => Actor | null,
  ) {}

  /** Opens the stream of a session; the oldest of a person who has more than a few is closed. */
  open(response: Response, sessionId: string, userId: number): void {
    const own = [...this.listeners].filter((each) => each.userId === userId);
    for (const oldest of own.slice(0, Math.max(0, own.length + 1 - MOST_STREAMS))) this.end(oldest, 'event: elsewhere\ndata: \n\n');
    response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' });
    response.write('retry: 2000\n\n');
    const listener = { response, sessionId, userId };
    this.listeners.add(listener);
    response.on('close', () => this.listeners.delete(listener));
  }

  publish(events: readonly LiveEvent[]): void {
    const texts = events.map((event) => {
      this.sent += 1;
      return { event, text: `id: ${this.sent}\ndata: ${JSON.stringify(event)}\n\n` };
    });
    if (texts.length === 0) return;
    this.tell((person) => {
      return texts
        .filter(({ event }) => {
          // A notice is for one person; everything else for whoever may see it.
          if (event.topic === 'notice') return event.userId === person.id;
          const right = heardBy(event.topic);
          return right === 'signedIn' || person.grants.has(right);
        })
        .map(({ text }) => text)
        .join('');
    });
  }

  /** Ends the streams of a session that is over. */
  endSession(sessionId: string): void {
    for (const each of [...this.listeners]) if (each.sessionId === sessionId) this.end(each);
  }

  close(): void {
    clearInterval(this.heartbeat);
    for (const each of [...this.listeners]) this.end(each);
  }

  private tell(words: (person: Actor) => string): void {
    for (const listener of [...this.listeners]) {
      const person = this.whose(listener.sessionId);
      if (person?.id !== listener.userId) {
        this.end(listener);
        continue;
      }
      const text = words(person);
      if (text === '') continue;
      listener.response.write(text);
      if (listener.response.writableLength > MOST_WAITING) {
        this.listeners.delete(listener);
        listener.response.destroy();
      }
    }
  }

  private end(listener: Listener, last = ''): void {
    this.listeners.delete(listener);
    listener.response.end(last);
  }
}
