/**
 * What a room must know of rooms that stand on it. It may not import them, so it says what it needs, and they are handed
 * in when the server is put together (`rooms.ts`).
 */
export interface HandedIn<T> {
  readonly give: (needs: T) => void;
  /** What was handed in; a mistake of ours where nothing was. */
  readonly get: () => T;
}

export function handedIn<T>(room: string): HandedIn<T> {
  let given: T | null = null;
  return {
    give: (needs) => {
      given = needs;
    },
    get: () => {
      if (given === null) throw new RangeError(`${room} was used before the other rooms were handed in: call registerRooms first`);
      return given;
    },
  };
}
