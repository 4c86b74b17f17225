import { describe, expect, it } from 'vitest';
import { allOf, sentOf, toCome, toDecide, type ReturnLine } from './return-lines';

const line = (id: number, quantity: string, received: string, decided: string): ReturnLine => ({
  id,
  shipmentLineId: id,
  itemId: 1,
  code: 'PAIL',
  description: 'Pail',
  unit: 'each',
  lot: '',
  serial: '',
  shipment: 'SH-1',
  quantity,
  received,
  decided,
  credited: '0',
  invoiced: true,
});

describe('what is typed of a return', () => {
  const lines = [line(1, '3', '1', '0'), line(2, '2', '2', '2'), line(3, '4', '0', '0')];

  it('begins with all that is still to come, or that waits to be decided on', () => {
    expect(allOf(lines, toCome)).toEqual({ 1: '2', 2: '', 3: '4' });
    expect(allOf(lines, toDecide)).toEqual({ 1: '1', 2: '', 3: '' });
  });

  it('is sent without lines of which there is nothing, and those that were emptied', () => {
    expect(sentOf(lines, { 1: ' 1 ', 2: '1', 3: '' }, toCome)).toEqual([{ lineId: 1, quantity: '1' }]);
    expect(sentOf(lines, { 1: '0' }, toDecide)).toEqual([]);
  });
});
