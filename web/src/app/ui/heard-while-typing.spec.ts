/** What others save comes in while somebody types: nothing typed is lost, and nothing of theirs is undone. */
import '@angular/compiler';
import { TestBed } from '@angular/core/testing';
import { Store } from '@ngrx/store';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { api, type HouseRulesView, type LiveEvent, type PurchaseView } from '@terrace/contract';
import { PurchasePanel } from '../buying/purchase-panel';
import { liveActions } from '../client/live.state';
import { RulesPage } from '../setup/rules.page';
import { FakeClient } from '../testing/fake-client';
import { panelWith, screenWith } from '../testing/panel';

let client: FakeClient;
beforeEach(() => {
  vi.useFakeTimers();
  client = new FakeClient();
});
afterEach(() => vi.useRealTimers());

/** Somebody else does something, and it is heard here. */
function hear(event: Partial<LiveEvent>): void {
  const whole: LiveEvent = { topic: 'setup', id: 0, userId: 2, who: 'Tobin', what: 'changed it', at: '2027-03-01T09:00:00Z', ...event };
  TestBed.inject(Store).dispatch(liveActions.heard({ event: whole }));
  vi.advanceTimersByTime(1000);
  TestBed.tick();
}
const field = (page: HTMLElement, label: string): HTMLInputElement => {
  const found = [...page.querySelectorAll('input')].find((each) => each.getAttribute('aria-label') === label);
  if (!found)
    throw new Error(`there is no field ${label}: ${[...page.querySelectorAll('input')].map((each) => each.getAttribute('aria-label')).join(', ')}`);
  return found;
};
function type(input: HTMLInputElement, text: string): void {
  input.focus();
  input.value = text;
  input.dispatchEvent(new Event('input', { bubbles: true }));
  TestBed.tick();
}
function submit(page: HTMLElement): void {
  page.querySelector('form')?.dispatchEvent(new Event('submit', { cancelable: true }));
  TestBed.tick();
}

describe('a form over what is kept', () => {
  const rules: HouseRulesView = {
    overDelivery: 500,
    underDelivery: 0,
    priceDifference: 200,
    approvedUpTo: null,
    ownApproval: true,
    reserve: 'all',
    reserveDays: 14,
    divideBy: [],
    quotesFrom: null,
    quotesWeighted: false,
    remindAfter: [7, 14, 14],
    version: 3,
  };

  it('keeps what is typed, shows what another has changed beside it, and sends both against the newest version', () => {
    let kept = rules;
    client.answer(api.setup.houseRules, () => kept);
    client.answer(api.setup.saveHouseRules, ({ body }) => ({ ...(body as object), version: 5 }));
    const { page } = screenWith(RulesPage, client, ['setup.see', 'setup.edit']);
    type(field(page, 'Needs no approval up to'), '250');
    kept = { ...rules, priceDifference: 350, remindAfter: [5, 14, 14], version: 4 };
    hear({ topic: 'setup' });
    expect(field(page, 'Needs no approval up to').value).toBe('250');
    expect(field(page, 'Dearer than agreed, in percent').value).toBe('3.5');
    submit(page);
    expect(client.asked.at(-1)?.call.body).toMatchObject({ approvedUpTo: 25_000, priceDifference: 350, remindAfter: [5, 14, 14], version: 4 });
  });

  it('keeps a field that both have changed as it is typed here', () => {
    let kept = rules;
    client.answer(api.setup.houseRules, () => kept);
    const { page } = screenWith(RulesPage, client, ['setup.see', 'setup.edit']);
    type(field(page, 'Dearer than agreed, in percent'), '1');
    kept = { ...rules, priceDifference: 350, version: 4 };
    hear({ topic: 'setup' });
    expect(field(page, 'Dearer than agreed, in percent').value).toBe('1');
  });

  it('is not read again for what it does not follow', () => {
    client.answer(api.setup.houseRules, () => rules);
    screenWith(RulesPage, client, ['setup.see', 'setup.edit']);
    const before = client.asked.length;
    hear({ topic: 'customerOrder', id: 9 });
    expect(client.asked).toHaveLength(before);
  });
});

describe('quantities typed over a document', () => {
  const line = (id: number): PurchaseView['lines'][number] => ({
    id,
    position: id,
    itemId: 100 + id,
    code: `ITEM-${id}`,
    description: 'Wire',
    supplierItemCode: '',
    unit: 'm',
    decimals: 2,
    tracking: 'none',
    quantity: '10',
    price: '1.50',
    dueDate: '2027-03-05',
    received: '0',
    cancelled: '0',
    outstanding: '10',
    most: '10',
    amount: '15.00',
  });
  const order: PurchaseView = {
    id: 7,
    number: 'PO-7',
    state: 'sent',
    supplierId: 1,
    supplier: 'Ironbeck',
    warehouseId: 1,
    warehouse: 'WORKS',
    orderDate: '2027-03-01',
    custom: {},
    note: '',
    lines: [line(1), line(2)],
    total: '30.00',
    approval: '',
    version: 4,
    receipts: [],
  };
  const shown = () => {
    let kept = order;
    client.answer(api.buying.getPurchase, () => kept);
    const { page } = panelWith(PurchasePanel, client, ['buying.receive'], 7);
    type(field(page, 'Arrived of ITEM-1'), '4.5');
    return { page, become: (more: Partial<PurchaseView>) => (kept = { ...kept, ...more }) };
  };

  it('stay while the same document is loaded again', () => {
    const { page } = shown();
    hear({ topic: 'purchaseOrder', id: 7, what: 'attached a file' });
    expect(field(page, 'Arrived of ITEM-1').value).toBe('4.5');
    hear({ topic: 'purchaseOrder', id: 8 });
    expect(field(page, 'Arrived of ITEM-1').value).toBe('4.5');
  });

  it('stay where somebody has changed it, who did is said, and what is sent is of what it has become', () => {
    const { page, become } = shown();
    become({ state: 'partReceived', version: 5, lines: [{ ...line(1), received: '5', outstanding: '5', most: '5' }, line(2)] });
    hear({ topic: 'purchaseOrder', id: 7, what: 'received 5 m of ITEM-1' });
    expect(field(page, 'Arrived of ITEM-1').value).toBe('4.5');
    expect(page.textContent).toContain('Tobin: received 5 m of ITEM-1');
    client.answer(api.buying.receive, () => ({ ...order, state: 'partReceived', version: 6 }));
    [...page.querySelectorAll('button')].find((each) => each.textContent.trim().startsWith('Receive 4.5 m of ITEM-1'))?.click();
    TestBed.tick();
    expect(client.asked.at(-1)?.call.body).toEqual({ version: 5, deliveryNote: '', lines: [{ lineId: 1, quantity: '4.5' }] });
  });
});
