import '@angular/compiler';
import { Subject } from 'rxjs';
import { beforeEach, describe, expect, it } from 'vitest';
import { api } from '@terrace/contract';
import { Problem } from '../client/api-client';
import { FakeClient } from '../testing/fake-client';
import { screenWith } from '../testing/panel';
import { WaitingPage } from './waiting.page';

/** What the template shows and does. */
interface Inside {
  readonly found: () => { readonly rows: readonly unknown[]; readonly byItself: boolean } | null;
  readonly problem: () => Problem | null;
  readonly busy: () => boolean;
  readonly done: () => string;
  readonly reserve: () => void;
  readonly choose: (way: 'press' | 'self') => void;
}

describe('free stock for orders that wait', () => {
  let client: FakeClient;
  let rows: object[];
  beforeEach(() => {
    client = new FakeClient();
    rows = [{ lineId: 1 }, { lineId: 2 }];
    client.answer(api.selling.freeForWaiting, () => ({ byItself: false, rows }));
  });
  const page = (): Inside => screenWith(WaitingPage, client, ['selling.confirm', 'setup.edit']).screen as unknown as Inside;
  const asked = (path: string): number => client.asked.filter((each) => each.path === path).length;

  it('is reserved once however often it is pressed, and shows what is left', () => {
    const answer = new Subject<{ reserved: number }>();
    client.answer(api.selling.reserveForWaiting, () => answer);
    const shown = page();
    const before = asked('/selling/waiting');
    shown.reserve();
    shown.reserve();
    expect([shown.busy(), asked('/selling/waiting') - before]).toEqual([true, 1]);
    rows = [];
    answer.next({ reserved: 1 });
    expect([shown.busy(), shown.done(), shown.found()?.rows]).toEqual([false, 'Reserved for 1 line.', []]);
  });

  it('says what was refused, and leaves what was shown', () => {
    client.refuse(api.selling.reserveForWaiting, new Problem('notAllowed', 'Ask sales.', {}, {}));
    const shown = page();
    shown.reserve();
    expect([shown.problem()?.code, shown.busy(), shown.found()?.rows.length]).toEqual(['notAllowed', false, 2]);
  });

  it('is reserved by itself from when an administrator says so', () => {
    client.answer(api.selling.setReservesByItself, (call) => call.body);
    const shown = page();
    shown.choose('self');
    expect(client.asked.some((each) => JSON.stringify(each.call.body) === '{"byItself":true}')).toBe(true);
  });
});
