import { describe, expect, it } from 'vitest';
import { letOffOf, settleOf, spreadOver, takenOf, type OpenItem } from './settle-draft';

const item = (id: number, open: string, more: Partial<OpenItem> = {}): OpenItem => ({
  kind: 'invoice',
  id,
  number: `INV-${id}`,
  date: '2027-02-01',
  dueDate: '2027-03-01',
  total: open,
  open,
  band: 'notDue',
  letOff: '0.00',
  reminded: 0,
  remindedOn: null,
  ...more,
});
const open = [item(1, '100.00', { letOff: '2.00' }), item(2, '50.00'), item(3, '-20.00', { kind: 'credit' })];

describe('a sum over open invoices', () => {
  it('goes to the first ones, with what is let off where that closes one, and never to credit notes', () => {
    expect(spreadOver(open, '120', true)).toEqual({ 1: { amount: '100.00', early: true }, 2: { amount: '22.00', early: false } });
    expect(spreadOver(open, '120', false)).toEqual({ 1: { amount: '100.00', early: false }, 2: { amount: '20.00', early: false } });
    expect(spreadOver(open, '97.99', true)).toEqual({ 1: { amount: '97.99', early: false } });
    expect(spreadOver(open, '500', true)).toEqual({ 1: { amount: '100.00', early: true }, 2: { amount: '50.00', early: false } });
    expect([spreadOver(open, '', true), spreadOver(open, 'ten', true), spreadOver(open, '-3', true)]).toEqual([{}, {}, {}]);
  });

  it('is sent as it was typed, without what closes nothing, and takes what is not let off', () => {
    const settles = { 1: { amount: ' 100 ', early: true }, 2: { amount: '0', early: true }, 9: { amount: '5', early: false } };
    expect(settleOf(open, settles)).toEqual([{ invoiceId: 1, amount: '100', letOff: '2.00' }]);
    expect(takenOf(open, settles)).toBe(9800);
    expect(letOffOf(open[1] ?? item(0, '0'), settles)).toBe('0.00');
    expect(takenOf(open, {})).toBe(0);
  });
});
