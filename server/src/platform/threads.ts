/** Threads: what takes long is done beside the one that answers everybody. */
import { existsSync, readlinkSync } from 'node:fs';
import { setPriority } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { isMainThread } from 'node:worker_threads';
import { Piscina } from 'piscina';
import { Refusal } from '@terrace/core';

/** The file of a thread: beside the module at `from`, as the server is bundled; or where tests have put what they bundled, `TERRACE_THREADS`. */
export function threadFile(name: string, from: string): string {
  const beside = join(dirname(fileURLToPath(from)), `${name}.js`);
  return existsSync(beside) ? beside : join(process.env['TERRACE_THREADS'] ?? dirname(beside), `${name}.js`);
}

/** What a thread answers: neither a refusal nor a fault of the machine can cross between threads as itself. */
export type Answer<T> =
  | { readonly done: T }
  | { readonly refused: { readonly code: string; readonly message: string; readonly details: Readonly<Record<string, unknown>> } }
  | { readonly fault: { readonly code: string; readonly message: string } };

/** Carries work out within a thread, as what can be told of it. */
export async function answering<T>(work: () => T | Promise<T>): Promise<Answer<T>> {
  try {
    return { done: await work() };
  } catch (error) {
    if (error instanceof Refusal) return { refused: { code: error.code, message: error.message, details: error.details } };
    if (error instanceof Error && 'code' in error && typeof error.code === 'string') return { fault: { code: error.code, message: error.message } };
    throw error;
  }
}

/** What a thread has done; what it refused is refused, and what failed there fails here. */
export function answerOf<T>(answer: Answer<T>): T {
  if ('done' in answer) return answer.done;
  if ('refused' in answer) throw new Refusal(answer.refused.code, answer.refused.message, answer.refused.details);
  throw Object.assign(new Error(answer.fault.message), { code: answer.fault.code });
}

const IDLE_MS = 10_000;
/** How far work that nobody waits for in that moment stands behind, as the operating system counts it. */
const BEHIND = 10;
/** Names the thread that reads it; there on Linux only. */
const OWN_THREAD = '/proc/thread-self';

/**
 * Lets the thread that calls it give way to all others: whatever is made in it takes what whoever answers people leaves of the
 * machine. Called by a worker as it begins.
 */
export function giveWay(): void {
  if (isMainThread || !existsSync(OWN_THREAD)) return;
  const thread = Number(readlinkSync(OWN_THREAD).split('/').at(-1));
  setPriority(thread, BEHIND);
}

/** One thread for a kind of work, there only while there is some; one that takes more memory than it may is ended. */
export function openPool(name: string, from: string, { mostMegabytes = 1024 }: { mostMegabytes?: number } = {}): Piscina {
  return new Piscina({
    filename: threadFile(name, from),
    minThreads: 0,
    maxThreads: 1,
    idleTimeout: IDLE_MS,
    resourceLimits: { maxOldGenerationSizeMb: mostMegabytes },
  });
}
