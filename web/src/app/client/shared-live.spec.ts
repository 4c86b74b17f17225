import '@angular/compiler';
import type { Subscription } from 'rxjs';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { sharedLive, type LiveMessage } from './shared-live';

/** A browser of several tabs: one set of locks and channels, and the streams that were opened. */
class Browser {
  readonly streams: FakeStream[] = [];
  readonly channels = new Set<{ onmessage: ((event: { data: unknown }) => void) | null }>();
  private holder: object | null = null;
  private readonly waiting: (() => void)[] = [];

  /** Like the lock of the platform: the next one gets it when the one before is done. */
  request(_: string, { signal }: { signal: AbortSignal }, act: () => Promise<void> | undefined): Promise<void> {
    return new Promise((done, fail) => {
      const run = (): void => {
        if (signal.aborted) return this.next();
        this.holder = signal;
        void Promise.resolve(act()).then(() => {
          done();
          this.next();
        });
      };
      signal.addEventListener('abort', () => fail(new Error('aborted')));
      if (this.holder === null) run();
      else this.waiting.push(run);
    });
  }

  private next(): void {
    this.holder = null;
    this.waiting.shift()?.();
  }

  get open(): FakeStream[] {
    return this.streams.filter((each) => each.readyState === 1);
  }
}

let browser: Browser;
class FakeStream {
  static readonly OPEN = 1;
  static readonly CLOSED = 2;
  readyState = 0;
  onopen: () => void = () => undefined;
  onerror: () => void = () => undefined;
  onmessage: (message: { data: string }) => void = () => undefined;
  private elsewhere: () => void = () => undefined;
  constructor() {
    browser.streams.push(this);
  }
  begin(): void {
    this.readyState = 1;
    this.onopen();
  }
  fail(forGood = false): void {
    this.readyState = forGood ? 2 : 0;
    this.onerror();
  }
  addEventListener(_: 'elsewhere', act: () => void): void {
    this.elsewhere = act;
  }
  giveWay(): void {
    this.elsewhere();
  }
  close(): void {
    this.readyState = 2;
  }
}
class FakeChannel {
  onmessage: ((event: { data: unknown }) => void) | null = null;
  constructor() {
    browser.channels.add(this);
  }
  postMessage(data: unknown): void {
    for (const each of browser.channels) if (each !== this) each.onmessage?.({ data });
  }
  close(): void {
    browser.channels.delete(this);
  }
}

interface Tab {
  readonly heard: string[];
  readonly listening: Subscription;
}
const words = (message: LiveMessage): string =>
  message.kind === 'heard' ? message.event.what : message.kind === 'connected' && message.again ? 'connected again' : message.kind;
const tab = (): Tab => {
  const heard: string[] = [];
  return { heard, listening: sharedLive().subscribe((message) => heard.push(words(message))) };
};
const event = (what: string): { data: string } => ({ data: JSON.stringify({ topic: 'stock', id: 1, userId: 2, who: 'Tobin', what, at: '' }) });
const soon = (): Promise<void> => new Promise((done) => setTimeout(done));

describe('the live stream of a browser', () => {
  let hidden: Record<string, (event: { persisted: boolean }) => void>;
  beforeEach(() => {
    browser = new Browser();
    hidden = {};
    vi.stubGlobal('EventSource', FakeStream);
    vi.stubGlobal('BroadcastChannel', FakeChannel);
    vi.stubGlobal('navigator', { locks: browser });
    vi.stubGlobal('window', {
      addEventListener: (name: string, act: (event: { persisted: boolean }) => void) => (hidden[name] = act),
      removeEventListener: () => undefined,
    });
  });
  afterEach(() => vi.unstubAllGlobals());

  it('is one, however many tabs there are, and all hear it', () => {
    const tabs = Array.from({ length: 10 }, tab);
    expect(browser.streams).toHaveLength(1);
    browser.streams[0]?.begin();
    browser.streams[0]?.onmessage(event('moved stock'));
    for (const each of tabs) expect(each.heard).toEqual(['connected', 'moved stock']);
    const late = tab();
    expect(late.heard).toEqual(['connected']);
    expect(tabs[3]?.heard).toEqual(['connected', 'moved stock']);
  });

  it('is taken over when the tab that has it goes, and the others know that they may have missed something', async () => {
    const [first, second] = [tab(), tab()];
    browser.streams[0]?.begin();
    first.listening.unsubscribe();
    await soon();
    expect([browser.streams.length, browser.open.length]).toEqual([2, 0]);
    browser.streams[1]?.begin();
    expect(browser.open).toHaveLength(1);
    expect(second.heard).toEqual(['connected', 'connected again']);
  });

  it('says that it is lost, and that something may have been missed when it is there again', () => {
    vi.useFakeTimers();
    const only = tab();
    browser.streams[0]?.begin();
    browser.streams[0]?.fail();
    browser.streams[0]?.begin();
    browser.streams[0]?.fail(true);
    vi.advanceTimersByTime(10_000);
    browser.streams[1]?.begin();
    expect(only.heard).toEqual(['connected', 'lost', 'connected again', 'lost', 'connected again']);
    vi.useRealTimers();
  });

  it('gives way to newer browsers of the same person, and is had again when somebody comes back to it', () => {
    const only = tab();
    browser.streams[0]?.begin();
    browser.streams[0]?.giveWay();
    expect([browser.open.length, browser.streams.length]).toEqual([0, 1]);
    hidden['focus']?.({ persisted: false });
    browser.streams[1]?.begin();
    expect(only.heard).toEqual(['connected', 'lost', 'connected again']);
  });

  it('is given up by a page that is kept for going back, and had again when it is shown', async () => {
    const page = tab();
    browser.streams[0]?.begin();
    hidden['pagehide']?.({ persisted: true });
    await soon();
    expect([browser.open.length, browser.channels.size]).toEqual([0, 0]);
    hidden['pageshow']?.({ persisted: true });
    browser.streams[1]?.begin();
    expect(page.heard).toEqual(['connected', 'connected again']);
  });

  it('is each tab’s own where the browser does not let them share', () => {
    vi.stubGlobal('navigator', {});
    const tabs = [tab(), tab()];
    browser.streams.forEach((stream) => stream.begin());
    expect(tabs.map((each) => each.heard)).toEqual([['connected'], ['connected']]);
  });
});
