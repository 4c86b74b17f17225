/** Families: items that differ by attributes, and the making of them. */
import { api, type AnswerOf, type BodyOf, type FamilyView, type ListQuery } from '@terrace/contract';
import { and, eq, ne } from 'drizzle-orm';
import { Refusal, variantsOf, writePrice, writeQuantity } from '@terrace/core';
import { countOf, sameText } from '../platform/expressions';
import { asNumber, asText, list, listPage } from '../platform/list';
import { query } from '../platform/query';
import { atField } from '../platform/fields';
import { addRow, changeRow, fetching, setRow } from '../platform/rows';
import { assertVersion } from '../platform/versions';
import type { Work } from '../platform/work';
import { givenByGroup } from './groups';
import { otherRooms } from './handed-in';
import { itemByCode } from './item-facts';
import { createItem } from './items';
import { item, itemFamily } from './schema';

const families = list(() => ({
  columns: {
    id: asNumber(itemFamily.id),
    code: asText(itemFamily.code),
    description: asText(itemFamily.description),
    group: asText(itemFamily.groupCode),
    items: asNumber(countOf(item, eq(item.familyId, itemFamily.id))),
  },
  from: itemFamily,
  find: [itemFamily.code, itemFamily.description],
  order: [itemFamily.code],
  tie: [itemFamily.id],
}));

export function listFamilies(work: Work, query: ListQuery): AnswerOf<typeof api.catalogue.listFamilies> {
  return listPage(work, families, query);
}

const fetchFamily = fetching(itemFamily, 'family');

function familyOf(work: Work, id: number): Pick<FamilyView, 'id' | 'code' | 'description' | 'group' | 'attributes' | 'version'> {
  const { groupCode: group, attributes, ...family } = fetchFamily(work, id);
  return { ...family, group, attributes: attributes.map((each) => ({ name: each.name, values: each.values.map((value) => ({ ...value })) })) };
}

const variantsMade = query(
  ($: { familyId: number }) => (db) =>
    db
      .select({
        id: item.id,
        code: item.code,
        description: item.description,
        variant: item.variant,
        sellPrice: item.sellPrice,
        onHand: otherRooms.get().onHand(item.id),
      })
      .from(item)
      .where(eq(item.familyId, $.familyId))
      .orderBy(item.code),
);
const familyByCode = query(
  ($: { code: string; except: number }) => (db) =>
    db
      .select({ description: itemFamily.description })
      .from(itemFamily)
      .where(and(sameText(itemFamily.code, $.code), ne(itemFamily.id, $.except))),
);

function sameValues(a: Readonly<Record<string, string>>, b: Readonly<Record<string, string>>): boolean {
  const keys = Object.keys(a);
  return keys.length === Object.keys(b).length && keys.every((key) => a[key] === b[key]);
}

/** A family with every variant that its attributes make: those that are items already, and those that may become one. */
export function familyView(work: Work, id: number): FamilyView {
  const family = familyOf(work, id);
  const made = variantsMade.all(work, { familyId: id }).map((each) => ({ ...each, values: each.variant ?? {} }));
  const possible = family.attributes.length === 0 ? [] : variantsOf(family.code, family.description, family.attributes);
  const rows = possible.map((variant) => {
    const itemMade = made.find((each) => sameValues(each.values, variant.values));
    const other = itemMade ? undefined : itemByCode(work, variant.code);
    return {
      code: itemMade?.code ?? variant.code,
      description: itemMade?.description ?? variant.description,
      values: variant.values,
      itemId: itemMade?.id ?? null,
      sellPrice: itemMade ? writePrice(itemMade.sellPrice) : '',
      onHand: itemMade ? writeQuantity(itemMade.onHand) : '',
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
  const taken = familyByCode.one(work, { code: input.code, except: exceptId });
  if (taken)
    throw new Refusal('codeTaken', `The code ${input.code} belongs to the family "${taken.description}" already: choose another.`, { field: 'code' });
}

export function createFamily(work: Work, input: Input): number {
  assertFamily(work, input, 0);
  const { code, description, group: groupCode, attributes } = input;
  const id = addRow(work, itemFamily, { code, description, groupCode, attributes });
  work.record('setup', id, `set up family ${input.code}`);
  return id;
}

/** Changes a family; items that were made of it stay as they are. Refuses to take a value away that an item has. */
export function changeFamily(work: Work, id: number, input: Input & { version: number }): void {
  const before = familyOf(work, id);
  assertVersion(work, 'item', before, input.version, `Family ${before.code}`);
  assertFamily(work, input, id);
  for (const made of variantsMade.all(work, { familyId: id })) {
    for (const [name, value] of Object.entries(made.variant ?? {})) {
      if (!input.attributes.find((each) => each.name === name)?.values.some((each) => each.code === value))
        throw new Refusal('valueInUse', `${name} ${value} can't go: ${made.code} is made of it.`, { field: 'attributes' });
    }
  }
  const { code, description, group: groupCode, attributes } = input;
  changeRow(work, itemFamily, id, { code, description, groupCode, attributes });
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
    const made = atField(`variants.${index}.code`, () =>
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
    setRow(work, item, made, { familyId: id, variant: variant.values });
  });
  changeRow(work, itemFamily, id, {});
  work.record('setup', id, `made ${input.variants.length} items of family ${family.code}`);
}

const familyOfItem = query(
  ($: { itemId: number }) => (db) =>
    db
      .select({ id: itemFamily.id, code: itemFamily.code, attributes: itemFamily.attributes })
      .from(item)
      .innerJoin(itemFamily, eq(itemFamily.id, item.familyId))
      .where(eq(item.id, $.itemId)),
);

/** The family that an item is of, with all items that are. */
export function familyWith(work: Work, itemId: number) {
  const family = familyOfItem.one(work, { itemId });
  return family && { ...family, items: variantsMade.all(work, { familyId: family.id }) };
}
