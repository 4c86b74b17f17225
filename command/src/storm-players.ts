/** Three who mean ill, beside fifty who work: the guesser, the flooder, and the one who sends bad files. */
import { connect, type Socket } from 'node:net';
import { workbookOf } from '../../server/src/testing/packed';

const GUESSERS = 3;
const FLOODERS = 3;
const HALF_OPEN = 40;
const SLOW_READERS = 10;
const STREAMS = 30;
const DEEP = `${'['.repeat(60_000)}${']'.repeat(60_000)}`;
const LONG_NAME = JSON.stringify({ login: 'x'.repeat(1_900_000), password: 'x' });
const NAMES = ['maren', ' quill', 'Quill\u00a0', 'isolde', 'nobody', 'wilder'];

export class Players {
  /** What was answered with a fault of ours. */
  readonly faults: string[] = [];
  asked = 0;
  /** Connections that were opened and left, or not read. */
  held = 0;
  private playing = true;
  private readonly sockets: Socket[] = [];
  private games: Promise<void>[] = [];

  constructor(
    private readonly port: number,
    /** Somebody who may look only. */
    private readonly viewer: string,
    /** Somebody who may send files in. */
    private readonly buyer: string,
  ) {}

  begin(): void {
    const games = [
      ...Array.from({ length: GUESSERS }, () => () => this.guess()),
      ...Array.from({ length: FLOODERS }, () => () => this.flood()),
      () => this.sendBadFiles(),
    ];
    this.hold();
    this.games = games.map((game) => this.play(game));
  }

  async end(): Promise<void> {
    this.playing = false;
    for (const socket of this.sockets) socket.destroy();
    await Promise.all(this.games);
  }

  private async play(game: () => Promise<void>): Promise<void> {
    while (this.playing) await game();
  }

  /** Sends something and looks only whether it was a fault. */
  private async ask(what: string, path: string, init: RequestInit): Promise<void> {
    try {
      const answer = await fetch(`http://127.0.0.1:${this.port}/api${path}`, init);
      const text = await answer.text();
      this.asked += 1;
      if (answer.status >= 500) this.faults.push(`${what}: ${answer.status} ${text.slice(0, 200)}`);
    } catch {
      // The server was killed, or has closed the connection on them as it may: that is no answer, and a moment's rest.
      await new Promise((over) => setTimeout(over, 20));
    }
  }

  private async guess(): Promise<void> {
    const login = NAMES[this.asked % NAMES.length];
    const body = JSON.stringify({ login, password: `guess ${this.asked}` });
    await this.ask('a guess', '/session', { method: 'POST', headers: { 'content-type': 'application/json' }, body });
  }

  private async flood(): Promise<void> {
    const json = { 'content-type': 'application/json', 'idempotency-key': `flood-${this.asked}-key` };
    await this.ask('deep JSON of nobody', '/selling/orders', { method: 'POST', headers: json, body: DEEP });
    await this.ask('deep JSON of a viewer', '/session/preferences/x', { method: 'PUT', headers: { ...json, cookie: this.viewer }, body: DEEP });
    await this.ask('a name of megabytes', '/session', { method: 'POST', headers: json, body: LONG_NAME });
    await this.ask('a list as paper', '/selling/orders?file=pdf', { headers: { cookie: this.viewer } });
  }

  private async sendBadFiles(): Promise<void> {
    for (const [name, content] of BAD_FILES) {
      const form = new FormData();
      form.set('file', new Blob([new Uint8Array(content)]), name);
      await this.ask(`the file ${name}`, '/bulk/files/items', { method: 'POST', headers: { cookie: this.buyer }, body: form });
      if (!this.playing) return;
    }
  }

  /** Connections that begin a request and do not go on, that do not read, and more streams than anybody has. */
  private hold(): void {
    const opened = (text: string, reads: boolean): void => {
      const socket = connect(this.port, '127.0.0.1', () => socket.write(text));
      // Whatever becomes of it, nobody reads it.
      socket.on('error', () => undefined);
      if (reads) socket.resume();
      else socket.pause();
      this.sockets.push(socket);
      this.held += 1;
    };
    for (let at = 0; at < HALF_OPEN; at += 1)
      opened(at % 2 === 0 ? 'GET /api/session HT' : 'POST /api/session HTTP/1.1\r\nhost: x\r\ncontent-length: 900\r\n\r\n{"l', true);
    for (let at = 0; at < SLOW_READERS; at += 1)
      opened(`GET /api/catalogue/items?limit=1000 HTTP/1.1\r\nhost: x\r\ncookie: ${this.viewer}\r\n\r\n`.repeat(20), false);
    for (let at = 0; at < STREAMS; at += 1) opened(`GET /api/live HTTP/1.1\r\nhost: x\r\ncookie: ${this.viewer}\r\n\r\n`, at % 2 === 0);
  }
}

const cell = (text: string): string => `<c r="A1" t="inlineStr"><is><t>${text}</t></is></c>`;
const BAD_FILES: readonly (readonly [string, Buffer])[] = [
  ['a heading of 60 MB.xlsx', workbookOf(`<row r="1">${cell('A'.repeat(60_000_000))}</row>`)],
  ['a heading of 25 MB.xlsx', workbookOf(`<row r="1">${cell('A'.repeat(25_000_000))}</row>`)],
  ['millions of cells.xlsx', workbookOf(`<row r="1">${'<c/>'.repeat(5_000_000)}</row>`)],
  ['one line of 30 MB.csv', Buffer.from('x'.repeat(30_000_000))],
];
