/** Server-sent events: what has changed, told to every open screen as soon as it is kept. */
import type { Response } from 'express';
import type { LiveEvent } from '@terrace/contract';

const HEARTBEAT_MS = 25_000;

export class LiveChannel {
  private readonly listeners = new Map<Response, number>();
  private readonly heartbeat = setInterval(() => this.send(': still here\n\n'), HEARTBEAT_MS).unref();
  private sent = 0;

  /** Opens the stream for a signed-in person. */
  open(response: Response, userId: number): void {
    response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' });
    response.write('retry: 2000\n\n');
    this.listeners.set(response, userId);
    response.on('close', () => this.listeners.delete(response));
  }

  publish(events: readonly LiveEvent[]): void {
    for (const event of events) {
      this.sent += 1;
      const text = `id: ${this.sent}\ndata: ${JSON.stringify(event)}\n\n`;
      for (const [response, userId] of this.listeners) {
        // A notice is for one person; everything else is for all.
        if (event.topic !== 'notice' || event.userId === userId) response.write(text);
      }
    }
  }

  close(): void {
    clearInterval(this.heartbeat);
    for (const response of this.listeners.keys()) response.end();
    this.listeners.clear();
  }

  private send(text: string): void {
    for (const response of this.listeners.keys()) response.write(text);
  }
}
