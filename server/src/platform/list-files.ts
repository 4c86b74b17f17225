/** A list as a file: read and written in a thread, however long it is. */
import type { AnyRoute, ListQuery } from '@terrace/contract';
import type { Work } from './work';

export interface ListFile {
  readonly type: string;
  readonly content: Buffer;
  /** How many rows are in it. */
  readonly rows: number;
}

export interface ListFiles {
  /** Refuses `tooManyRows`, `noColumns`, `busyForYou`. */
  readonly write: (
    route: AnyRoute,
    work: Work,
    input: { readonly params: unknown; readonly query: ListQuery },
    signal: AbortSignal,
  ) => Promise<ListFile>;
}
