/** Notices as they are listed: routine ones of a day are gathered to one line, others stand alone. */
import type { Notice, NoticeKind } from '@terrace/contract';

const ROUTINE: Readonly<Partial<Record<NoticeKind, (count: number) => string>>> = {
  finished: (count) => `${count} completions`,
  arrived: (count) => `${count} deliveries arrived`,
  shipped: (count) => `${count} shipments left`,
  onItsWay: (count) => `${count} transfers on their way`,
};

export interface NoticeLine {
  readonly key: string;
  /** The moment of the newest, in world time. */
  readonly at: string;
  readonly words: string;
  readonly read: boolean;
  /** What it tells, the newest first; several where they are gathered. */
  readonly notices: readonly Notice[];
}

const dayOf = (at: string): string => new Date(at).toDateString();

/** Gathers routine notices of one kind and day, where there are several, at the place of the newest; `now` says which day is today. */
export function gathered(notices: readonly Notice[], now: Date): readonly NoticeLine[] {
  const lines = new Map<string, Notice[]>();
  for (const notice of notices) {
    const key = ROUTINE[notice.kind] ? `${notice.kind} ${dayOf(notice.at)}` : String(notice.id);
    lines.set(key, [...(lines.get(key) ?? []), notice]);
  }
  return [...lines].flatMap(([key, of]) => {
    const [newest] = of;
    if (!newest) return [];
    const day =
      dayOf(newest.at) === now.toDateString() ? 'today' : `on ${new Date(newest.at).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })}`;
    const words = of.length > 1 ? `${ROUTINE[newest.kind]?.(of.length) ?? ''} ${day}` : newest.text;
    return [{ key, at: newest.at, words, read: of.every(({ read }) => read), notices: of }];
  });
}
