/** Fields that a company adds by itself: on items, parties and documents; found, sorted, shown and exchanged like the others. */
import type { CustomField, CustomRecord } from '@terrace/contract';
import { Refusal, readDateCell, readNumberCell, readYesNoCell } from '@terrace/core';
import type { Column } from '../platform/list';
import { atField, type Work } from '../platform/work';

const known = new WeakMap<Work, readonly CustomField[]>();

/** All fields, read once in a work. */
export function customFields(work: Work): readonly CustomField[] {
  let fields = known.get(work);
  if (!fields) {
    fields = work
      .rows<Omit<CustomField, 'choices' | 'active'> & { choices: string; active: number }>(
        'select id, record, title, type, choices, active, version from custom_field order by record, id',
      )
      .map((each) => ({ ...each, choices: JSON.parse(each.choices) as string[], active: each.active === 1 }));
    known.set(work, fields);
  }
  return fields;
}

/** Forgets what was read, after a field has changed. */
export function forgetFields(work: Work): void {
  known.delete(work);
}

/** Fields of a kind of record that are in use. */
export function fieldsOn(work: Work, record: CustomRecord): CustomField[] {
  return customFields(work).filter((each) => each.record === record && each.active);
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
    if (to === '') work.run('delete from custom_value where field_id = ? and record_id = ?', field.id, id);
    else
      work.run(
        'insert into custom_value (field_id, record_id, value) values (?, ?, ?) on conflict (field_id, record_id) do update set value = excluded.value',
        field.id,
        id,
        to,
      );
    return [{ field: field.title, from, to }];
  });
}

/** The values of a record, by the number of their field. */
export function customOf(work: Work, record: CustomRecord, id: number): Record<string, string> {
  return Object.fromEntries(
    work
      .rows<{ field: number; value: string }>(
        'select v.field_id as field, v.value from custom_value v join custom_field f on f.id = v.field_id where f.record = ? and v.record_id = ?',
        record,
        id,
      )
      .map((each) => [String(each.field), each.value]),
  );
}

/** Columns of a list for the fields of its records: `own_3` for field 3. */
export function customColumns(work: Work, record: CustomRecord, idSql: string): Record<string, Column> {
  return Object.fromEntries(
    fieldsOn(work, record).map((field): [string, Column] => {
      const value = `(select v.value from custom_value v where v.field_id = ${field.id} and v.record_id = ${idSql})`;
      return [
        `own_${field.id}`,
        field.type === 'number' ? { sql: `cast(${value} as real)`, type: 'number', written: value } : { sql: value, type: 'text' },
      ];
    }),
  );
}

/** What words are looked for in besides a list's own columns. */
export function customFind(work: Work, record: CustomRecord, idSql: string): string[] {
  return fieldsOn(work, record).some((each) => each.type === 'text' || each.type === 'choice')
    ? [
        `(select group_concat(v.value, ' ') from custom_value v join custom_field f on f.id = v.field_id where f.record = '${record}' and v.record_id = ${idSql})`,
      ]
    : [];
}
