import { describe, expect, it } from 'vitest';
import { demandWords, servedWords } from './served-words';

describe('whom a suggestion serves', () => {
  it.each([
    ['CO-1088/1', 'CO-1088/1'],
    ['SUIT-M@DEPOT#1', 'SUIT-M in DEPOT'],
    ['JAR-500@WORKS#12', 'JAR-500 in WORKS'],
    ['forecast JAR-500 WORKS/2027-05-10', 'forecast'],
    ['safety', 'safety stock'],
    ['', ''],
  ])('%s is said as %s', (demand, words) => {
    expect(demandWords(demand)).toBe(words);
  });

  it('says how many more there are', () => {
    expect(servedWords({ id: 'a', serves: 'CO-1088/1', servesMore: 2 })).toBe('CO-1088/1 +2');
    expect(servedWords({ id: 'a', serves: 'safety', servesMore: 0 })).toBe('safety stock');
    expect(servedWords({ id: 'a', serves: null, servesMore: 0 })).toBe('');
  });
});
