import '@angular/compiler';
import { describe, expect, it } from 'vitest';
import { wordsOf } from '../shell/scanner';
import { countSerials, scannedPiece } from './pieces-field';

describe('what is typed or scanned for pieces', () => {
  it('counts serial numbers, and says why a list can’t be read', () => {
    expect(countSerials('A-1..A-3, B')).toEqual({ count: 4, wrong: '' });
    expect(countSerials('A A').wrong).toContain('A is there twice');
  });

  it('takes element strings apart, leaves other text alone, and is not troubled by broken ones', () => {
    expect(scannedPiece('(01)02000000000015(17)271231(10)W-7')).toMatchObject({ lot: 'W-7', expiry: '2027-12-31' });
    expect(scannedPiece('W-7')).toBeNull();
    expect(scannedPiece('(01)02000000000016')).toBeNull();
  });

  it('says in words what a scan means', () => {
    const nothing = {
      item: null,
      lot: null,
      lotId: null,
      serial: null,
      serialId: null,
      expiry: null,
      madeOn: null,
      sscc: null,
      binId: null,
      bin: null,
      quantity: null,
    };
    const jar = { id: 1, code: 'JAR', description: 'Jar 500 g', unit: 'each', tracking: 'lot' as const };
    expect(wordsOf({ ...nothing, item: jar, lot: 'L1', quantity: '72' })).toBe('JAR Jar 500 g, lot L1, quantity 72');
    expect(wordsOf({ ...nothing, bin: 'WORKS A-01' })).toBe('bin WORKS A-01');
  });
});
