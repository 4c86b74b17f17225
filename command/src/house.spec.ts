/** What docs/house.md says of the house is so. */
import { existsSync, readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';

const root = fileURLToPath(new URL('../..', import.meta.url));
const house = readFileSync(join(root, 'docs/house.md'), 'utf8');
const filesUnder = (folder: string): string[] =>
  readdirSync(join(root, folder), { recursive: true, encoding: 'utf8' })
    .map((file) => `${folder}/${file}`)
    .filter((file) => /\.(ts|html)$/.test(file) && !file.endsWith('.spec.ts') && !file.includes('/testing/'));

describe('the house', () => {
  it('has each word of the trade where the list of words says, on every floor', () => {
    const rows = house
      .slice(house.indexOf('## Where to find a word'))
      .split('\n')
      .filter((line) => line.startsWith('| ') && line.includes('/'));
    expect(rows.map((row) => row.split('|')[1]?.trim())).toEqual(
      expect.arrayContaining(['invoice', 'planning rule', 'reservation', 'stock value', 'first-expiring', 'price']),
    );
    const named = rows.flatMap((row) => [...row.matchAll(/`([^`]+)`/g)].map(([, file = '']) => file));
    expect(named.length).toBeGreaterThan(25);
    expect(named.filter((file) => !existsSync(join(root, file)))).toEqual([]);
  });

  it('writes no currency into screens: amounts are in the company’s', () => {
    const screens = filesUnder('web/src/app');
    expect(screens.length).toBeGreaterThan(150);
    expect(
      screens.filter((file) => /\b(EUR|USD|GBP|CHF)\b|€\s?\d/.test(readFileSync(join(root, file), 'utf8').replace(/\/\*\*[\s\S]*?\*\//g, ''))),
    ).toEqual([]);
  });

  it('has a page for each kind of document in the rooms that say they have it, and names no kind twice', () => {
    const said = (floor: string): string[] =>
      filesUnder(floor)
        .filter((file) => file.endsWith('/documents.ts') && !/\/(ui|platform)\//.test(file))
        .flatMap((file) => [...readFileSync(join(root, file), 'utf8').matchAll(/kind: '(\w+)'/g)].map(([, kind = '']) => kind));
    const [server, web] = [said('server/src'), said('web/src/app')];
    expect(new Set(server).size).toBe(server.length);
    expect([...web].sort()).toEqual([...new Set(web)].sort());
    expect(server.length).toBeGreaterThan(10);
    expect(server.filter((kind) => !web.includes(kind))).toEqual([]);
  });
});
