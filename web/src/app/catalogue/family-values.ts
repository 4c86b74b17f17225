/** Values of an attribute as they are typed. */

/** "S small, M medium" → codes and names; a value of one word is both. */
export function valuesFrom(text: string): { code: string; name: string }[] {
  return text
    .split(',')
    .map((each) => each.trim())
    .filter(Boolean)
    .map((each) => {
      const [code = '', ...words] = each.split(/\s+/);
      return { code, name: words.join(' ') || code };
    });
}
