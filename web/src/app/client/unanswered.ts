/**
 * The keys of commands that nobody has answered yet. Whoever sends the same again after a lost answer, or after the page
 * was loaded anew, means the same: it goes out under the same key and happens once.
 */
const PLACE = 'terrace.unanswered';
/** After that it is a new intent, whatever it looks like. */
const KEPT_MS = 24 * 3_600_000;
/** Nothing of these is written down, not even for the length of a request. */
const SECRET = /password|secret/i;

interface Kept {
  readonly key: string;
  readonly at: number;
}
type Keys = Readonly<Record<string, Kept>>;

export class Unanswered {
  private keys: Keys = {};

  constructor(private readonly storage: Pick<Storage, 'getItem' | 'setItem'> | null) {}

  /** The key of a command: as long as it is not answered, the same whenever it is sent. */
  keyOf(method: string, address: string, body: unknown): { readonly intent: string; readonly key: string } {
    const intent = `${method} ${address} ${JSON.stringify(body)}`;
    const now = Date.now();
    const known = this.kept()[intent];
    if (known && now - known.at < KEPT_MS) return { intent, key: known.key };
    const key = crypto.randomUUID();
    this.keep({ ...this.kept(), [intent]: { key, at: now } });
    return { intent, key };
  }

  /** It was done, or refused: what is sent from now on is meant anew. */
  answered(intent: string): void {
    const { [intent]: _done, ...rest } = this.kept();
    this.keep(rest);
  }

  private kept(): Keys {
    if (!this.storage) return this.keys;
    return { ...readKeys(this.storage.getItem(PLACE)), ...this.keys };
  }

  private keep(keys: Keys): void {
    this.keys = keys;
    this.storage?.setItem(PLACE, JSON.stringify(Object.fromEntries(Object.entries(keys).filter(([intent]) => !SECRET.test(intent)))));
  }
}

function readKeys(text: string | null): Keys {
  if (text === null) return {};
  try {
    return JSON.parse(text) as Keys;
  } catch {
    // What somebody else has written there is no key of ours.
    return {};
  }
}
