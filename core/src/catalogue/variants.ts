/** Variants of a family: every combination of its attributes' values, with a code and a description made from them. */
import { Refusal } from '../base';

export interface Attribute {
  readonly name: string;
  readonly values: readonly { readonly code: string; readonly name: string }[];
}

export interface Variant {
  readonly code: string;
  readonly description: string;
  /** Attribute's name → value's code. */
  readonly values: Readonly<Record<string, string>>;
}

export const MOST_VARIANTS = 500;

/**
 * The variants of a family in the order of its attributes.
 *
 * Refuses `noAttribute`, `sameValue` (a value code twice in one attribute) and `tooManyVariants`.
 * @example variantsOf('SUIT', 'Bee suit', [{ name: 'Size', values: [{ code: 'S', name: 'small' }] }])[0].code // 'SUIT-S'
 */
export function variantsOf(code: string, description: string, attributes: readonly Attribute[]): Variant[] {
  if (attributes.length === 0 || attributes.some((each) => each.values.length === 0))
    throw new Refusal(
      'noAttribute',
      'A family needs an attribute at least, and each attribute a value: add size, colour or whatever tells its items apart.',
    );
  for (const attribute of attributes) {
    const twice = attribute.values.find(
      (value, index) => attribute.values.findIndex((each) => each.code.toLowerCase() === value.code.toLowerCase()) !== index,
    );
    if (twice)
      throw new Refusal('sameValue', `${attribute.name} has the value ${twice.code} twice: give each its own code.`, { field: 'attributes' });
  }
  const count = attributes.reduce((product, each) => product * each.values.length, 1);
  if (count > MOST_VARIANTS)
    throw new Refusal('tooManyVariants', `These attributes make ${count} variants; the most is ${MOST_VARIANTS}. Make two families of it.`, {
      field: 'attributes',
    });
  return attributes.reduce<Variant[]>(
    (variants, attribute) =>
      variants.flatMap((variant) =>
        attribute.values.map((value) => ({
          code: `${variant.code}-${value.code}`,
          description: `${variant.description}, ${value.name}`,
          values: { ...variant.values, [attribute.name]: value.code },
        })),
      ),
    [{ code, description, values: {} }],
  );
}
