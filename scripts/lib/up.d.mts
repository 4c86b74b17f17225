import type { ChildProcess } from 'node:child_process';

export function untilUp(url: string, child: ChildProcess): Promise<void>;

export function sessionOf(answer: Response): string;
