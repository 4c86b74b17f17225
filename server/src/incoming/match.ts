/** Matching what a file says with customers, items, units and prices of ours; what does not match says why. */
import { and, eq, ne, sql } from 'drizzle-orm';
import {
  PRICE_SCALE,
  QUANTITY_SCALE,
  Refusal,
  parsePositiveQuantity,
  parsePrice,
  parseQuantity,
  readDecimal,
  toScale,
  unitCalled,
  writePrice,
  writeQuantity,
  type IncomingLine,
  type IncomingOrder,
  type IncomingProblem,
  type Quantity,
} from '@terrace/core';
import { customer, customerOf, itemByCode, itemCalledBy, itemFacts, itemWithBarcode, packsOf } from '../catalogue';
import { sameText } from '../platform/expressions';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { priceToday } from '../selling';
import { incomingOrder, type Mended } from './schema';

export interface Problem {
  readonly problem: IncomingProblem;
  readonly words: string;
}

export interface MatchedLine {
  readonly said: IncomingLine;
  readonly itemId: number | null;
  /** In the item's base unit. */
  readonly quantity: string;
  readonly price: string;
  readonly ourPrice: string;
  readonly problems: readonly Problem[];
}

export interface Matched {
  readonly customerId: number | null;
  readonly requiredDate: string;
  readonly problems: readonly Problem[];
  readonly lines: readonly MatchedLine[];
}

const called = query(
  ($: { text: string }) => (db) =>
    db
      .select({ id: customer.id })
      .from(customer)
      .where(
        and(
          eq(customer.active, true),
          sql`(${sameText(customer.code, $.text)} or ${sameText(customer.name, $.text)} or ${sameText(customer.email, $.text)})`,
        ),
      )
      .limit(2),
);

/** The customer that a buyer is: by code, else by name, else by mail; nobody where two could be meant. */
function customerFor(work: Work, { code, name, email }: IncomingOrder['buyer']): number | null {
  for (const text of [code, name, email]) {
    if (text === '') continue;
    const [only, other] = called.all(work, { text });
    if (only && !other) return only.id;
  }
  return null;
}

/** The item that a line means: by the customer's number, ours, or the barcode. */
function itemFor(work: Work, customerId: number | null, line: IncomingLine): number | null {
  const theirs = line.theirCode === '' || customerId === null ? undefined : itemCalledBy(work, customerId, line.theirCode);
  if (theirs !== undefined) return theirs;
  const ours =
    line.ourCode === ''
      ? undefined
      : (itemByCode(work, line.ourCode)?.id ?? (customerId === null ? undefined : itemCalledBy(work, customerId, line.ourCode)));
  if (ours !== undefined) return ours;
  return line.barcode === '' ? null : (itemWithBarcode(work, line.barcode)?.itemId ?? null);
}

/** How many base units one of a unit is; nothing where the item has no such unit. */
function factorOf(work: Work, itemId: number, unit: string): string | null {
  const { unit: base } = itemFacts(work, itemId);
  const ours = unitCalled(unit);
  if (unit === '' || ours === base || unit === base) return '1';
  return packsOf(work, itemId).find(({ code }) => code.toLowerCase() === unit.toLowerCase())?.factor ?? null;
}

/** A figure times, or by, a factor of quantities; exact, or nothing. */
function times(figure: string, factor: string): string | null {
  const [a, b] = [readDecimal(figure), readDecimal(factor)];
  if (!a || !b) return null;
  const exact = toScale({ mantissa: a.mantissa * b.mantissa, scale: a.scale + b.scale }, QUANTITY_SCALE);
  return exact === null ? null : writeQuantity(Number(exact));
}
function perPiece(price: string, factor: string): string {
  const micro = parsePrice(price);
  return writePrice(Math.round((micro * 10 ** QUANTITY_SCALE) / parseQuantity(factor, QUANTITY_SCALE)));
}

interface About {
  readonly customerId: number | null;
  readonly mended: Mended['lines'][string] | undefined;
}

function matchLine(work: Work, line: IncomingLine, { customerId, mended }: About): MatchedLine {
  const itemId = mended?.itemId ?? itemFor(work, customerId, line);
  const nothing = { said: line, itemId, quantity: mended?.quantity ?? '', price: '', ourPrice: '' };
  if (itemId === null) {
    const names = [line.theirCode, line.ourCode, line.barcode].filter(Boolean).join(', ');
    return {
      ...nothing,
      problems: [{ problem: 'noItem', words: `No item of ours is called ${names === '' ? 'so' : names}: say which one is meant.` }],
    };
  }
  const facts = itemFacts(work, itemId);
  const problems: Problem[] = [];
  const factor = factorOf(work, itemId, line.unit);
  if (factor === null && mended?.quantity === undefined)
    problems.push({ problem: 'unit', words: `${facts.code} is not sold by “${line.unit}”: say how many ${facts.unit} they want.` });
  const wanted = mended?.quantity ?? (factor === null ? '' : (times(line.quantity, factor) ?? line.quantity));
  const quantity = readQuantity(wanted, facts.decimals, problems.length === 0 ? problems : null);
  const ours = customerId === null || quantity === null ? '' : writePrice(priceToday(work, { customerId, itemId, quantity }));
  const theirs = theirPrice(line, factor ?? '1');
  // What they say and nobody can read is nothing that could hold.
  if (theirs === null && mended?.price !== 'ours')
    problems.push({
      problem: 'price',
      words: `They say “${line.price}”${line.per === undefined ? '' : ` for ${line.per}`}, which is no price, and ours is ${ours === '' ? 'not known' : ours}: say that ours holds, or ask them.`,
    });
  const price = mended?.price === 'ours' ? ours : theirs === null ? '' : theirs === '' ? ours : theirs;
  if (theirs !== null && theirs !== '' && ours !== '' && Number(theirs) !== Number(ours) && mended?.price === undefined)
    problems.push({ problem: 'price', words: `They say ${theirs} for one, and our price is ${ours}: say which of them holds.` });
  return { said: line, itemId, quantity: quantity === null ? wanted : writeQuantity(quantity), price, ourPrice: ours, problems };
}

/** Their price for one base unit; empty where they say none, and `null` where it can't be read. */
function theirPrice({ price, per = '1' }: IncomingLine, factor: string): string | null {
  if (price === '') return '';
  const pieces = times(per, factor);
  if (!isPrice(price) || pieces === null || !(Number(pieces) > 0)) return null;
  return perPiece(price, pieces);
}

const isPrice = (text: string): boolean => {
  const decimal = readDecimal(text);
  return decimal !== null && toScale(decimal, PRICE_SCALE) !== null && !text.startsWith('-');
};

function readQuantity(text: string, decimals: number, problems: Problem[] | null): Quantity | null {
  try {
    return parsePositiveQuantity(text, decimals, 'the quantity');
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    problems?.push({ problem: 'quantity', words: `“${text}”: ${error.message}` });
    return null;
  }
}

const before = query(
  ($: { id: number; reference: string }) => (db) =>
    db
      .select({
        number: incomingOrder.number,
        buyer: incomingOrder.buyer,
        said: incomingOrder.said,
        mended: incomingOrder.mended,
        customerId: incomingOrder.customerId,
      })
      .from(incomingOrder)
      .where(
        and(
          eq(incomingOrder.reference, $.reference),
          ne(incomingOrder.id, $.id),
          ne(incomingOrder.state, sql`'dropped'`),
          sql`${incomingOrder.id} < ${$.id}`,
        ),
      ),
);

const DAY = /^\d{4}-\d{2}-\d{2}$/;

/** Matches an order as it stands today. */
export function match(work: Work, { id, said, mended, buyer }: typeof incomingOrder.$inferSelect): Matched {
  const customerId = mended.customerId === undefined ? customerFor(work, said.buyer) : mended.customerId;
  const problems: Problem[] = [];
  if (customerId === null) problems.push({ problem: 'noCustomer', words: `Nobody we know is called “${buyer}”: say who it is from.` });
  const theirs = customerId === null ? said.currency : customerOf(work, customerId).currency;
  if (said.currency !== '' && said.currency !== theirs)
    problems.push({ problem: 'currency', words: `It is in ${said.currency}, and we sell to them in ${theirs}: ask them for an order in ${theirs}.` });
  const asked = mended.requiredDate ?? said.requiredDate;
  const requiredDate = DAY.test(asked) ? asked : work.today;
  if (asked !== '' && !DAY.test(asked)) problems.push({ problem: 'date', words: `“${asked}” is no day: say when they want it.` });
  // Named by code the one time and by name the other, it is the same customer.
  const other = before.all(work, { id, reference: said.number }).find((each) => {
    const whose = each.customerId ?? each.mended.customerId ?? customerFor(work, each.said.buyer);
    return whose !== null && customerId !== null ? whose === customerId : each.buyer === buyer;
  });
  if (other && mended.again !== true)
    problems.push({
      problem: 'cameBefore',
      words: `${said.number} of ${buyer} came before, as ${other.number}: lay this one aside, or say that it is another.`,
    });
  return {
    customerId: customerId === null ? null : customerOf(work, customerId).id,
    requiredDate: requiredDate < work.today ? work.today : requiredDate,
    problems,
    lines: said.lines.map((line) => matchLine(work, line, { customerId, mended: mended.lines[line.id] })),
  };
}
