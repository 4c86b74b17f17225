/** What is to be done with many orders, as it is chosen and typed. */
import type { OrderAct, Right } from '@terrace/contract';

export interface ManyDraft {
  readonly act: OrderAct['act'];
  readonly reason: string;
  readonly date: string;
  readonly warehouseId: number;
  readonly carrier: string;
  readonly service: string;
}

export const NO_DRAFT: ManyDraft = { act: 'confirm', reason: '', date: '', warehouseId: 0, carrier: '', service: '' };

/** What can be chosen, and the right that each takes. */
export const ACTS: readonly { readonly act: OrderAct['act']; readonly words: string; readonly right: Right }[] = [
  { act: 'confirm', words: 'Confirm them', right: 'selling.confirm' },
  { act: 'reserve', words: 'Reserve what is free', right: 'selling.confirm' },
  { act: 'hold', words: 'Hold them', right: 'selling.confirm' },
  { act: 'letGo', words: 'Let them go on', right: 'selling.confirm' },
  { act: 'redate', words: 'Want them on another day', right: 'selling.edit' },
  { act: 'move', words: 'Send them from another warehouse', right: 'selling.edit' },
  { act: 'carry', words: 'Send them another way', right: 'selling.edit' },
  { act: 'mail', words: 'Send confirmations by mail', right: 'selling.confirm' },
  { act: 'ship', words: 'Make shipments', right: 'dispatch.ship' },
  { act: 'printConfirmations', words: 'Print confirmations', right: 'selling.see' },
  { act: 'printPickLists', words: 'Print pick lists', right: 'dispatch.see' },
  { act: 'printSlips', words: 'Print packing slips', right: 'dispatch.see' },
  { act: 'invoice', words: 'Invoice what has shipped', right: 'accounts.invoice' },
];

/** What is sent of it. */
export function actOf({ act, reason, date, warehouseId, carrier, service }: ManyDraft): OrderAct {
  switch (act) {
    case 'hold':
      return { act, reason };
    case 'redate':
      return { act, date };
    case 'move':
      return { act, warehouseId };
    case 'carry':
      return { act, carrier, service };
    default:
      return { act };
  }
}
