/** Columns of figures that begin with nothing. */
import { sql } from 'drizzle-orm';
import { integer } from 'drizzle-orm/sqlite-core';
import type { Amount, Quantity, Rate } from '@terrace/core';

/** An amount, 0 as long as nobody says another. */
export const amountFrom0 = () =>
  integer()
    .$type<Amount>()
    .notNull()
    .default(sql`0`);

/** A quantity, 0 as long as nobody says another. */
export const quantityFrom0 = () =>
  integer()
    .$type<Quantity>()
    .notNull()
    .default(sql`0`);

/** What one of a currency is worth in the books': that of the books themselves as long as nobody says another. */
export const rateFrom1 = () =>
  integer()
    .$type<Rate>()
    .notNull()
    .default(sql`100000000`);
