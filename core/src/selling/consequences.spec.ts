import { describe, expect, it } from 'vitest';
import { parseQuantity } from '../base';
import { consequences, type LineStanding } from './index';

const line = (id: number, open: string, reserved: string, promiseDate: string | null = '2027-03-12', requiredDate = '2027-03-12'): LineStanding => ({
  id,
  itemId: 100 + id,
  position: id,
  goods: true,
  open: parseQuantity(open, 5),
  reserved: parseQuantity(reserved, 5),
  requiredDate,
  promiseDate,
});
const kinds = (before: LineStanding[], after: LineStanding[]): string[] =>
  consequences(before, after).map((each) => `${'after' in each ? each.after.position : each.before.position} ${each.kind}`);

describe('a change of a confirmed order', () => {
  it('says nothing of what stays as it is', () => {
    expect(consequences([line(1, '5', '5')], [line(1, '5', '5')])).toEqual([]);
  });

  it('says what becomes free, what is counted on no more, what comes and what goes', () => {
    const before = [line(1, '5', '5'), line(2, '4', '0', null), line(3, '1', '1')];
    const after = [line(1, '3', '3'), line(2, '4', '0', null), line(4, '2', '1')];
    expect(kinds(before, after)).toEqual(['1 reserved', '1 fewer', '4 added', '3 gone']);
  });

  it('promises nothing of a service', () => {
    expect(kinds([{ ...line(1, '5', '0'), goods: false }], [{ ...line(1, '5', '0', null), goods: false }])).toEqual([]);
  });

  it('takes a line of another item for another line, whatever its id', () => {
    expect(kinds([line(2, '5', '5')], [{ ...line(2, '5', '0'), itemId: 7 }])).toEqual(['2 added', '2 gone']);
  });

  it.each([
    ['2027-03-12', '2027-03-20', '2027-03-12', true],
    ['2027-03-12', null, '2027-03-12', true],
    // Later, and wanted later: nobody waits.
    ['2027-03-12', '2027-03-20', '2027-03-20', false],
    [null, '2027-03-20', '2027-03-12', false],
    ['2027-03-20', '2027-03-12', '2027-03-12', false],
  ])('is worse for whoever waits where it was promised %s, is promised %s and wanted %s: %s', (was, now, wanted, later) => {
    expect(consequences([line(1, '5', '0', was)], [line(1, '5', '0', now, wanted)])).toMatchObject([{ kind: 'promised', later }]);
  });
});
