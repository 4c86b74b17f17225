/** Fields that a company adds by itself: on items, parties and documents; found, sorted, shown and exchanged like the others. */
import { and, eq, sql, type SQL } from 'drizzle-orm';
import type { SQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { api } from '@terrace/contract';
import type { BodyOf, CustomField, CustomRecord } from '@terrace/contract';
import { Refusal, readDateCell, readNumberCell, readYesNoCell } from '@terrace/core';
import { inner, scalar } from '../platform/expressions';
import { atField } from '../platform/fields';
import type { Column, MoreColumns } from '../platform/list';
import { command, query } from '../platform/query';
import { addRow, changeRow, keepRow, orNotFound } from '../platform/rows';
import { assertSeen } from '../platform/versions';
import type { Work } from '../platform/work';
import { customField, customValue } from './custom-schema';

const known = new WeakMap<Work, readonly CustomField[]>();

const allFields = query(() => (db) => db.select().from(customField).orderBy(customField.record, customField.id));

/** All fields, read once in a work. */
export function customFields(work: Work): readonly CustomField[] {
  let fields = known.get(work);
  if (!fields) {
    fields = allFields.all(work);
    known.set(work, fields);
  }
  return fields;
}

/** Fields of a kind of record that are in use. */
export function fieldsOn(work: Work, record: CustomRecord): CustomField[] {
  return customFields(work).filter((each) => each.record === record && each.active);
}

const valuesUsed = query(
  ($: { fieldId: number }) => (db) => db.selectDistinct({ value: customValue.value }).from(customValue).where(eq(customValue.fieldId, $.fieldId)),
);

/** Adds or changes a field of the company's own. Its type stays once values are kept; a choice in use stays too. */
export function saveField(work: Work, input: BodyOf<typeof api.catalogue.saveField>): void {
  const fields = customFields(work);
  const before =
    input.id === undefined
      ? undefined
      : orNotFound(
          fields.find((each) => each.id === input.id),
          'field',
        );
  assertSeen(before, input.version, `The field ${input.title}`);
  if (input.type === 'choice' && input.choices.length === 0) throw new Refusal('noChoice', 'Say what can be chosen.', { field: 'choices' });
  const same = fields.find((each) => each.record === input.record && each.id !== input.id && each.title.toLowerCase() === input.title.toLowerCase());
  if (same) throw new Refusal('titleTaken', `There is a field ${same.title} already: choose another title.`, { field: 'title' });
  const { record, title, type, choices } = input;
  if (before) {
    const used = valuesUsed.all(work, { fieldId: before.id }).map((each) => each.value);
    if (used.length > 0 && (before.type !== type || before.record !== record))
      throw new Refusal('fieldInUse', `${before.title} has values: what it holds stays. Set up another field.`, { field: 'type' });
    const lost = type === 'choice' ? used.find((value) => !choices.includes(value)) : undefined;
    if (lost !== undefined) throw new Refusal('choiceInUse', `"${lost}" is chosen on some record: it can't go.`, { field: 'choices' });
    changeRow(work, customField, before.id, { record, title, type, choices, active: input.active });
  } else addRow(work, customField, { record, title, type, choices });
  known.delete(work);
  work.record('setup', 0, `set the field ${input.title}`);
}

const PLAIN = { decimals: 'point', dates: 'dayFirst' } as const;

/** Checks a value and gives it in its one form: plain decimals, ISO dates, yes or no, a choice as defined. */
export function readCustom(field: CustomField, text: string): string {
  const value = text.trim();
  if (value === '') return '';
  if (field.type === 'number') return readNumberCell(value, PLAIN);
  if (field.type === 'date') return readDateCell(value, PLAIN);
  if (field.type === 'yesNo') return readYesNoCell(value) ? 'yes' : 'no';
  if (field.type === 'choice') {
    const choice = field.choices.find((each) => each.toLowerCase() === value.toLowerCase());
    if (choice === undefined) throw new Refusal('unknownChoice', `${field.title} is none of ${field.choices.join(', ')}: "${value}" is not known.`);
    return choice;
  }
  return value;
}

const dropValue = command(
  ($: { fieldId: number; recordId: number }) => (db) =>
    db.delete(customValue).where(and(eq(customValue.fieldId, $.fieldId), eq(customValue.recordId, $.recordId))),
);

/** Keeps the values of a record that are named; the others stay. Says what changed. */
export function keepCustom(
  work: Work,
  record: CustomRecord,
  id: number,
  values: Readonly<Record<string, string>>,
): { field: string; from: string; to: string }[] {
  const entries = Object.entries(values);
  if (entries.length === 0) return [];
  const before = customOf(work, record, id);
  return entries.flatMap(([key, text]) => {
    const field = customFields(work).find((each) => each.id === Number(key) && each.record === record);
    if (!field) throw new Refusal('unknownField', `There is no field ${key} on this kind of record.`, { field: `custom.${key}` });
    const to = atField(`custom.${key}`, () => readCustom(field, text));
    const from = before[key] ?? '';
    if (to === from) return [];
    if (to === '') dropValue.run(work, { fieldId: field.id, recordId: id });
    else keepRow(work, customValue, ['fieldId', 'recordId'], { fieldId: field.id, recordId: id, value: to });
    return [{ field: field.title, from, to }];
  });
}

const valuesOf = query(
  ($: { record: CustomRecord; id: number }) => (db) =>
    db
      .select({ field: customValue.fieldId, value: customValue.value })
      .from(customValue)
      .innerJoin(customField, eq(customField.id, customValue.fieldId))
      .where(and(eq(customField.record, $.record), eq(customValue.recordId, $.id))),
);

/** The values of a record, by the number of their field. */
export function customOf(work: Work, record: CustomRecord, id: number): Record<string, string> {
  return Object.fromEntries(valuesOf.all(work, { record, id }).map((each) => [String(each.field), each.value]));
}

/** Columns of a list for the fields of its records (`own_3` for field 3), and what words are looked for in besides. */
export function customColumns(work: Work, record: CustomRecord, id: SQLiteColumn): MoreColumns {
  const fields = fieldsOn(work, record);
  const columns = fields.map((field): [string, Column] => {
    const value = scalar(
      inner
        .select({ value: customValue.value })
        .from(customValue)
        .where(and(eq(customValue.fieldId, field.id), eq(customValue.recordId, id))),
    );
    return [
      `own_${field.id}`,
      field.type === 'number' ? { of: sql`cast(${value} as real)`, type: 'number', written: value } : { of: value, type: 'text' },
    ];
  });
  return {
    key: fields.map((field) => `${field.id} ${field.type}`).join(),
    columns: Object.fromEntries(columns),
    find: fields.some((each) => each.type === 'text' || each.type === 'choice') ? [allWordsOf(record, id)] : [],
  };
}

function allWordsOf(record: CustomRecord, id: SQLiteColumn): SQL {
  return scalar(
    inner
      .select({ words: sql`group_concat(${customValue.value}, ' ')` })
      .from(customValue)
      .innerJoin(customField, eq(customField.id, customValue.fieldId))
      .where(and(eq(customField.record, record), eq(customValue.recordId, id))),
  );
}
