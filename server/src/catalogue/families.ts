/** Families: items that differ by attributes, and the making of them. */
import { api, type AnswerOf, type BodyOf, type FamilyView, type ListQuery } from '@terrace/contract';
import { Refusal, variantsOf, writePrice, writeQuantity } from '@terrace/core';
import { asNumber, asText, listPage, type ListDefinition } from '../platform/list';
import { assertVersion, atField, orNotFound, type Work } from '../platform/work';
import { givenByGroup } from './groups';
import { createItem } from './items';

const families: ListDefinition = {
  columns: {
    id: asNumber('f.id'),
    code: asText('f.code'),
    description: asText('f.description'),
    group: asText('f.group_code'),
    items: asNumber('(select count(*) from item i where i.family_id = f.id)'),
  },
  from: 'item_family f',
  find: ['f.code', 'f.description'],
  order: 'f.code',
  tie: 'f.id',
};

export function listFamilies(work: Work, query: ListQuery): AnswerOf<typeof api.catalogue.listFamilies> {
  return listPage(work, families, query);
}

interface FamilyRecord {
  readonly id: number;
  readonly code: string;
  readonly description: string;
  readonly group: string;
  readonly attributes: FamilyView['attributes'];
  readonly version: number;
}

function familyOf(work: Work, id: number): FamilyRecord {
  const row = orNotFound(
    work.row<Omit<FamilyRecord, 'attributes'> & { attributes: string }>(
      'select id, code, description, group_code as "group", attributes, version from item_family where id = ?',
      id,
    ),
    'family',
  );
  return { ...row, attributes: JSON.parse(row.attributes) as FamilyView['attributes'] };
}

function sameValues(a: Readonly<Record<string, string>>, b: Readonly<Record<string, string>>): boolean {
  const keys = Object.keys(a);
  return keys.length === Object.keys(b).length && keys.every((key) => a[key] === b[key]);
}

/** A family with every variant that its attributes make: those that are items already, and those that may become one. */
export function familyView(work: Work, id: number): FamilyView {
  const family = familyOf(work, id);
  const made = work
    .rows<{ id: number; code: string; description: string; variant: string; sellPrice: number; onHand: number }>(
      `select i.id, i.code, i.description, i.variant, i.sell_price as sellPrice, coalesce((select sum(b.quantity) from balance b where b.item_id = i.id), 0) as onHand
       from item i where i.family_id = ? order by i.code`,
      id,
    )
    .map((each) => ({ ...each, values: JSON.parse(each.variant) as Record<string, string> }));
  const possible = family.attributes.length === 0 ? [] : variantsOf(family.code, family.description, family.attributes);
  const rows = possible.map((variant) => {
    const item = made.find((each) => sameValues(each.values, variant.values));
    const other = item ? undefined : work.row<{ description: string }>('select description from item where code = ? collate nocase', variant.code);
    return {
      code: item?.code ?? variant.code,
      description: item?.description ?? variant.description,
      values: variant.values,
      itemId: item?.id ?? null,
      sellPrice: item ? writePrice(item.sellPrice) : '',
      onHand: item ? writeQuantity(item.onHand) : '',
      taken: other?.description ?? '',
    };
  });
  const left = made.filter((each) => !possible.some((variant) => sameValues(each.values, variant.values)));
  return {
    ...family,
    variants: [
      ...rows,
      ...left.map((each) => ({
        code: each.code,
        description: each.description,
        values: each.values,
        itemId: each.id,
        sellPrice: writePrice(each.sellPrice),
        onHand: writeQuantity(each.onHand),
        taken: '',
      })),
    ],
  };
}

type Input = BodyOf<typeof api.catalogue.createFamily>;

function assertFamily(work: Work, input: Input, exceptId: number): void {
  atField('group', () => givenByGroup(work, input.group));
  atField('attributes', () => variantsOf(input.code, input.description, input.attributes));
  const names = input.attributes.map((each) => each.name.toLowerCase());
  if (new Set(names).size < names.length)
    throw new Refusal('sameAttribute', 'Two attributes have the same name: name them apart.', { field: 'attributes' });
  const taken = work.row<{ description: string }>(
    'select description from item_family where code = ? collate nocase and id <> ?',
    input.code,
    exceptId,
  );
  if (taken)
    throw new Refusal('codeTaken', `The code ${input.code} belongs to the family "${taken.description}" already: choose another.`, { field: 'code' });
}

export function createFamily(work: Work, input: Input): number {
  assertFamily(work, input, 0);
  const { id } = work.run(
    'insert into item_family (code, description, group_code, attributes) values (?, ?, ?, ?)',
    input.code,
    input.description,
    input.group,
    JSON.stringify(input.attributes),
  );
  work.record('setup', id, `set up family ${input.code}`);
  return id;
}

/** Changes a family; items that were made of it stay as they are. Refuses to take a value away that an item has. */
export function changeFamily(work: Work, id: number, input: Input & { version: number }): void {
  const before = familyOf(work, id);
  assertVersion(work, 'item', before, input.version, `Family ${before.code}`);
  assertFamily(work, input, id);
  for (const { code, variant } of work.rows<{ code: string; variant: string }>('select code, variant from item where family_id = ?', id)) {
    for (const [name, value] of Object.entries(JSON.parse(variant) as Record<string, string>)) {
      if (!input.attributes.find((each) => each.name === name)?.values.some((each) => each.code === value))
        throw new Refusal('valueInUse', `${name} ${value} can't go: ${code} is made of it.`, { field: 'attributes' });
    }
  }
  work.run(
    'update item_family set code = ?, description = ?, group_code = ?, attributes = ?, version = version + 1 where id = ?',
    input.code,
    input.description,
    input.group,
    JSON.stringify(input.attributes),
    id,
  );
  work.record('setup', id, `changed family ${input.code}`);
}

/** Makes items of variants, each with its own code, description and price. Refuses what is no variant or is made already. */
export function makeVariants(work: Work, id: number, input: BodyOf<typeof api.catalogue.makeVariants>): void {
  const family = familyOf(work, id);
  assertVersion(work, 'item', family, input.version, `Family ${family.code}`);
  const rows = familyView(work, id).variants;
  input.variants.forEach((variant, index) => {
    const row = rows.find((each) => sameValues(each.values, variant.values));
    if (!row) throw new Refusal('noVariant', `${variant.code} is no variant of ${family.code}.`, { field: `variants.${index}.code` });
    if (row.itemId !== null) throw new Refusal('madeAlready', `${row.code} is an item already.`, { field: `variants.${index}.code` });
    const item = atField(`variants.${index}.code`, () =>
      createItem(
        work,
        api.catalogue.createItem.body.parse({
          code: variant.code,
          description: variant.description,
          group: family.group,
          sellPrice: variant.sellPrice,
        }),
        `made of family ${family.code}`,
      ),
    );
    work.run('update item set family_id = ?, variant = ? where id = ?', id, JSON.stringify(variant.values), item);
  });
  work.run('update item_family set version = version + 1 where id = ?', id);
  work.record('setup', id, `made ${input.variants.length} items of family ${family.code}`);
}
