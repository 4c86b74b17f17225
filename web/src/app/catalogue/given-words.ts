/** The values that a group may give, in words. */
const WORDS: Readonly<Record<string, string>> = {
  stocked: 'kept in stock',
  nonStocked: 'bought as needed',
  service: 'service',
  charge: 'charge',
  phantom: 'phantom: only inside a bill of materials',
  none: 'none',
  lot: 'by lot',
  serial: 'by serial number',
  movingAverage: 'moving average',
  fifo: 'first in, first out',
  standard: 'standard cost',
};

export const CHOICES: Readonly<Record<string, readonly string[]>> = {
  kind: ['stocked', 'nonStocked', 'service', 'charge', 'phantom'],
  tracking: ['none', 'lot', 'serial'],
  costing: ['movingAverage', 'fifo', 'standard'],
};

export function givenWords(value: string): string {
  return WORDS[value] ?? value;
}
