import { describe, expect, it } from 'vitest';
import { chainOf, type Link } from './chain';

interface Named extends Link {
  readonly name: string;
}
const link = (name: string, start: string, ready: string | null, below: readonly Named[] = []): Named => ({
  name,
  start,
  due: ready ?? start,
  ready,
  below,
});
const TODAY = '2027-03-01';

describe('the chain that decides when an order is ready', () => {
  it('goes down through what is ready last, and stops at stock', () => {
    const rows = chainOf(
      [
        link('stock', TODAY, TODAY),
        link('hive', '2027-03-10', '2027-03-15', [
          link('box', '2027-03-05', '2027-03-10', [link('board', TODAY, TODAY)]),
          link('frame', '2027-03-04', '2027-03-10', [link('wax', '2027-03-02', '2027-03-04')]),
        ]),
      ],
      TODAY,
    );
    expect(rows.map(({ link: { name }, depth, critical }) => `${depth} ${name}${critical ? ' *' : ''}`)).toEqual([
      '0 stock',
      '0 hive *',
      '1 box',
      '2 board',
      '1 frame *',
      '2 wax *',
    ]);
  });

  it('is empty where all of it is in stock', () => {
    expect(chainOf([link('stock', TODAY, TODAY)], TODAY).some((row) => row.critical)).toBe(false);
  });

  it('goes through what never comes before anything that comes late', () => {
    const rows = chainOf([link('late', '2027-03-02', '2027-06-30'), link('never', '2027-03-02', null, [link('part', '2027-03-02', null)])], TODAY);
    expect(rows.filter((row) => row.critical).map((row) => row.link.name)).toEqual(['never', 'part']);
  });
});
