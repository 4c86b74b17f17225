/**
 * What is typed and not saved yet, kept in the tab: it is there again after a reload, a lost connection or a session that
 * ended, for the same person at the same address.
 */
const PREFIX = 'typed ';

export class KeptEntries {
  constructor(private readonly storage: Pick<Storage, 'getItem' | 'setItem' | 'removeItem'> | null) {}

  read(name: string): unknown {
    const text = this.storage?.getItem(PREFIX + name);
    return text === null || text === undefined ? null : (JSON.parse(text) as unknown);
  }

  keep(name: string, typed: unknown): void {
    this.storage?.setItem(PREFIX + name, JSON.stringify(typed));
  }

  drop(name: string): void {
    this.storage?.removeItem(PREFIX + name);
  }
}
