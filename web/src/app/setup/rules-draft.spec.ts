import { describe, expect, it } from 'vitest';
import { api, type HouseRules } from '@terrace/contract';
import { bodyOf, draftOf } from './rules-draft';

const rules: HouseRules = {
  overDelivery: 500,
  underDelivery: 25,
  priceDifference: 0,
  approvedUpTo: 50_000,
  ownApproval: true,
  reserve: 'soon',
  reserveDays: 14,
  divideBy: ['short'],
  quotesFrom: 60,
  quotesWeighted: true,
  remindAfter: [7, 14, 21],
};

describe('the rules of the house as they are typed', () => {
  it('come back as they were', () => {
    expect(draftOf(rules)).toMatchObject({ overDelivery: '5', underDelivery: '0.25', approvedUpTo: '500.00' });
    expect(bodyOf(draftOf(rules))).toEqual(rules);
    expect(bodyOf({ ...draftOf(rules), approvedUpTo: ' ' }).approvedUpTo).toBeNull();
  });

  it.each(['much', '5.123', '-1', '101'])('are not taken where a share is %j', (overDelivery) => {
    const read = api.setup.saveHouseRules.body.safeParse({ ...bodyOf({ ...draftOf(rules), overDelivery }), version: 0 });
    expect(read.success).toBe(false);
    expect(read.error?.issues[0]?.path).toEqual(['overDelivery']);
  });
});
