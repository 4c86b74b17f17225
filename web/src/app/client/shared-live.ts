/**
 * One live stream for all tabs of a browser, which gives one host six connections only: the tab that holds the lock has the
 * stream and tells the others. When it goes, another takes over; whoever may have missed something hears `again`. A page
 * that is kept for going back holds neither, so that the browser can keep it, and begins anew when it is shown.
 */
import { Observable } from 'rxjs';
import type { LiveEvent } from '@terrace/contract';

export type LiveMessage =
  | { readonly kind: 'heard'; readonly event: LiveEvent }
  /** The stream is there; `again` where it was not there for a while, so that something may have been missed. */
  | { readonly kind: 'connected'; readonly again: boolean }
  | { readonly kind: 'lost' };

const NAME = 'terrace-live';
const RETRY_MS = 3000;

/** What other tabs say to each other: what was heard, and who has just come and does not know yet how it stands. */
type Told = LiveMessage | { readonly kind: 'newcomer' } | { readonly kind: 'standing' };

/** The stream itself, opened again where the server closes it for good. */
function ownStream(tell: (message: LiveMessage) => void): { readonly close: () => void; readonly isOpen: () => boolean } {
  let source: EventSource;
  let retry: ReturnType<typeof setTimeout> | undefined;
  let before = false;
  const open = (): void => {
    source = new EventSource('/api/live');
    source.onopen = () => {
      tell({ kind: 'connected', again: before });
      before = true;
    };
    source.onerror = () => {
      tell({ kind: 'lost' });
      if (source.readyState === EventSource.CLOSED) retry = setTimeout(open, RETRY_MS);
    };
    // Newer browsers of the same person took its place: it waits until somebody comes back to this one.
    source.addEventListener('elsewhere', () => {
      source.close();
      tell({ kind: 'lost' });
      window.addEventListener('focus', open, { once: true });
    });
    source.onmessage = (message: MessageEvent<string>) => tell({ kind: 'heard', event: JSON.parse(message.data) as LiveEvent });
  };
  open();
  return {
    close: () => {
      clearTimeout(retry);
      window.removeEventListener('focus', open);
      source.close();
    },
    isOpen: () => source.readyState === EventSource.OPEN,
  };
}

/** Whether tabs can share: browsers allow it on secure pages only. Otherwise each tab has a stream of its own. */
const canShare = (): boolean => 'locks' in navigator && typeof BroadcastChannel === 'function';

/** Joins the tabs of this browser; gives a way to leave them. `heardBefore` where this tab may have missed something. */
function join(tell: (message: LiveMessage) => void, heardBefore: boolean): () => void {
  const channel = new BroadcastChannel(NAME);
  const leaving = new AbortController();
  let stream: ReturnType<typeof ownStream> | null = null;
  let known = heardBefore;
  let connected = false;
  const pass = (message: LiveMessage): void => {
    if (message.kind !== 'heard') connected = message.kind === 'connected';
    // Whoever was connected before and is connected anew has missed what came between.
    if (message.kind === 'connected') {
      tell({ kind: 'connected', again: message.again || known });
      known = true;
    } else tell(message);
  };
  channel.onmessage = ({ data }: MessageEvent<Told>) => {
    if (data.kind === 'standing') {
      // Told to all, for whoever does not know yet.
      if (!connected) pass({ kind: 'connected', again: false });
    } else if (data.kind !== 'newcomer') pass(data);
    else if (stream?.isOpen()) channel.postMessage({ kind: 'standing' });
  };
  void navigator.locks
    .request(NAME, { signal: leaving.signal }, () => {
      if (leaving.signal.aborted) return undefined;
      stream = ownStream((message) => {
        pass(message);
        channel.postMessage(message);
      });
      return new Promise<void>((done) => leaving.signal.addEventListener('abort', () => done()));
    })
    .catch((error: unknown) => {
      if (!leaving.signal.aborted) throw error;
    });
  channel.postMessage({ kind: 'newcomer' });
  return () => {
    leaving.abort();
    stream?.close();
    channel.close();
  };
}

/** What is heard of the server's changes, for as long as somebody listens. */
export function sharedLive(): Observable<LiveMessage> {
  return new Observable<LiveMessage>((observer) => {
    const tell = (message: LiveMessage): void => observer.next(message);
    if (!canShare()) {
      const stream = ownStream(tell);
      return () => stream.close();
    }
    let leave: (() => void) | null = join(tell, false);
    const hide = (): void => {
      leave?.();
      leave = null;
    };
    const show = (event: PageTransitionEvent): void => {
      if (event.persisted && leave === null) leave = join(tell, true);
    };
    window.addEventListener('pagehide', hide);
    window.addEventListener('pageshow', show);
    return () => {
      window.removeEventListener('pagehide', hide);
      window.removeEventListener('pageshow', show);
      hide();
    };
  });
}
