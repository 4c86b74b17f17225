/** Reasons by which an order is divided, in words. */
import type { DivideReason } from '@terrace/core';

export const REASON_WORDS: Readonly<Record<DivideReason, string>> = {
  short: 'What is short now',
  warehouse: 'What another warehouse has',
  address: 'What goes to another address',
  carrier: 'What goes by another carrier',
  direct: 'What a supplier ships',
  services: 'Services',
  lotLife: 'Lots that don’t last until the rest is ready',
};
