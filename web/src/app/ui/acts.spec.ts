import '@angular/compiler';
import { beforeEach, describe, expect, it } from 'vitest';
import { Asking, type Act } from './acts';

describe('an act', () => {
  let asking: Asking;
  let done: string[];
  const act = (more: Partial<Act> = {}): Act => ({ words: 'Cancel', act: (reason) => done.push(`done ${reason}`.trim()), ...more });
  const asks = { heading: 'Cancel PO-1', consequences: 'It is no longer expected.', action: 'Cancel it', reasonWanted: true };
  beforeEach(() => {
    asking = new Asking();
    done = [];
  });

  it('that asks nothing is done at once', () => {
    asking.start(act());
    expect([asking.about(), done]).toEqual([null, ['done']]);
  });

  it('that asks is done once when it is agreed to, with the reason, and not when it is dropped', () => {
    asking.start(act({ asks }));
    expect([asking.about()?.asks?.heading, done]).toEqual(['Cancel PO-1', []]);
    asking.drop();
    expect([asking.about(), done]).toEqual([null, []]);
    asking.start(act({ asks }));
    asking.agree('ordered twice');
    asking.agree('again');
    expect([asking.about(), done]).toEqual([null, ['done ordered twice']]);
  });
});
