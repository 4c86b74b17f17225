type Defined<T> = { [Key in keyof T]?: Exclude<T[Key], undefined> };

/** What of a change is said: a key that is there without a value says nothing. */
export function definedOf<T extends object>(change: T): Defined<T> {
  return Object.fromEntries(Object.entries(change).filter(([, each]) => each !== undefined)) as Defined<T>;
}
