import { describe, expect, it } from 'vitest';
import { api, type OrderRun } from '@terrace/contract';
import { ACTS, NO_DRAFT, actOf } from './many-draft';
import { runWords } from './run-words';

const run: OrderRun = {
  id: 1,
  title: 'Confirm',
  who: 'Maren',
  at: '2027-03-01T09:00:00.000Z',
  state: 'done',
  papers: false,
  total: 1500,
  done: 1200,
  refused: 300,
};

describe('a run over many orders', () => {
  it.each([
    [{}, '1,200 done, 300 refused'],
    [{ refused: 0, total: 1200 }, '1,200 done'],
    [{ state: 'running', refused: 0 }, '1,200 done, 300 to come'],
    [{ state: 'stopped', refused: 100 }, 'Stopped: 1,200 done, 100 refused, 200 untouched'],
    [{ state: 'cut', refused: 0 }, 'Cut short as the server ended: 1,200 done, 300 untouched'],
  ] as const)('%j is said as %s', (more, words) => {
    expect(runWords({ ...run, ...more })).toBe(words);
  });
});

describe('what is done with many orders', () => {
  it('is sent with what it takes and nothing else', () => {
    const typed = { ...NO_DRAFT, reason: 'deposit', date: '2027-04-01', warehouseId: 2, carrier: 'Fen Parcels', service: '' };
    const sent = ACTS.map(({ act }) => actOf({ ...typed, act }));
    expect(sent.filter((each) => Object.keys(each).length > 1)).toEqual([
      { act: 'hold', reason: 'deposit' },
      { act: 'redate', date: '2027-04-01' },
      { act: 'move', warehouseId: 2 },
      { act: 'carry', carrier: 'Fen Parcels', service: '' },
    ]);
    for (const act of sent) expect(api.selling.startRun.body.safeParse({ act, ids: [1] }).success).toBe(true);
    expect(api.selling.startRun.body.safeParse({ act: actOf({ ...NO_DRAFT, act: 'move' }), ids: [1] }).error?.issues[0]?.path).toEqual([
      'act',
      'warehouseId',
    ]);
  });
});
