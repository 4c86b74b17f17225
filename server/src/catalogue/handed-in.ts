/** What the catalogue shows of its items and parties but other rooms know. */
import type { SQL, SQLWrapper } from 'drizzle-orm';
import type { SQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { ItemView } from '@terrace/contract';
import type { Amount, Quantity, RuleTexts } from '@terrace/core';
import { handedIn } from '../platform/handed-in';
import type { Work } from '../platform/work';

/** Finds an item in this unit that has a kept quantity finer than a step; its code. */
export type FinerThan = (work: Work, unit: string, step: number) => string | undefined;

interface FromOtherRooms {
  /** What is physically there of an item, in every warehouse, for lists: every state but in transit. */
  readonly onHand: (item: SQLiteColumn) => SQL<Quantity>;
  /** What is free of an item in every warehouse, for lists: available, not short-dated today, not reserved. */
  readonly free: (item: SQLiteColumn, today: SQLWrapper) => SQL<Quantity>;
  /** Numbers of the first three documents that moved an item. */
  readonly firstMoves: (work: Work, item: number) => string[];
  readonly quantityThere: (work: Work, item: number) => Quantity;
  /** Whether stock of an item is valued at a standard cost. */
  readonly valuedAtStandard: (work: Work, item: number) => boolean;
  /** Numbers of the open documents of other rooms that name an item. */
  readonly openDocuments: (work: Work, item: number) => string[];
  readonly finerThan: readonly FinerThan[];
  readonly openOrdersOfCustomer: (customer: SQLiteColumn) => SQL<number>;
  readonly openOrdersOfSupplier: (supplier: SQLiteColumn) => SQL<number>;
  /** Numbers of what is open between a customer and us: orders, quotes, invoices, what was paid ahead. */
  readonly openWith: (work: Work, customer: number) => readonly string[];
  /** What a customer owes on open invoices, in the books' currency. */
  readonly owes: (customer: SQLiteColumn) => SQL<Amount>;
  /** Price lists in use. */
  readonly priceLists: (work: Work) => { id: number; code: string; name: string }[];
  readonly hasPriceList: (work: Work, id: number) => boolean;
  readonly accounts: (work: Work) => { id: number; code: string; name: string }[];
  readonly hasAccount: (work: Work, code: string) => boolean;
  /** Posts what the stock of items is worth from one inventory account to another, saying why. */
  readonly reclassify: (work: Work, changes: readonly { itemId: number; from: string; to: string }[], note: string) => void;
  readonly openAccount: (work: Work, code: string, name: string) => void;
  readonly planning: {
    /** How an item is planned, for its page. */
    readonly ofItem: (work: Work, item: number) => Pick<ItemView, 'rules' | 'ruleGiven'>;
    /** Plans an item as its group says; whether that changed anything. */
    readonly planAs: (work: Work, item: number, text: string) => boolean;
    /** Has the rules of items take what is said further up; how many changed. */
    readonly follow: (work: Work, items: readonly number[]) => number;
    /** How a group or an item is planned, in the one form that each text has. */
    readonly plainTexts: (texts: RuleTexts, prefix?: string) => RuleTexts;
  };
}

export const otherRooms = handedIn<FromOtherRooms>('catalogue');
