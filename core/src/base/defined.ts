type Defined<T> = { [Key in keyof T]?: Exclude<T[Key], undefined> };

/** What of a change is said: a key that is there without a value says nothing. */
export function definedOf<T extends object>(change: T): Defined<T> {
  return Object.fromEntries(Object.entries(change).filter(([, each]) => each !== undefined)) as Defined<T>;
}

/**
 * What a record holds under a name that somebody typed; nothing of what every object has of itself.
 *
 * @example ownOf({ Code: 'code' }, 'constructor') // undefined
 */
export function ownOf<T>(record: Readonly<Record<string, T>>, name: string): T | undefined {
  return Object.hasOwn(record, name) ? record[name] : undefined;
}
