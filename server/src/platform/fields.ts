/** Refusals said at the field, or the row of a list, that they are of. */
import { Refusal } from '@terrace/core';

/** Runs a reading of input with the name of its field, so that a refusal is shown where it belongs. */
export function atField<T>(field: string, read: () => T): T {
  try {
    return read();
  } catch (error) {
    if (error instanceof Refusal) throw new Refusal(error.code, error.message, { ...error.details, field: error.details['field'] ?? field });
    throw error;
  }
}

/** Refuses like `act`, naming the row of a list before the field. */
export function atRow<T>(row: string, act: () => T): T {
  try {
    return act();
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    const { field } = error.details;
    throw new Refusal(error.code, error.message, { ...error.details, field: typeof field === 'string' ? `${row}.${field}` : row });
  }
}
