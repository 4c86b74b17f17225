/** A change of a confirmed order, looked at before it is made: what becomes free, is promised otherwise, or was bought and made for it. */
import { api, type AnswerOf, type BodyOf, type OrderView, type PegView } from '@terrace/contract';
import { QUANTITY_SCALE, Refusal, consequences, parseQuantity, writeQuantity, type Consequence, type LineStanding } from '@terrace/core';
import type { LivePlanner } from '../planning';
import type { Commands } from '../platform/commands';
import type { Binder } from '../platform/http';
import type { Actor, Work } from '../platform/work';
import { changeOrder, orderView } from '../selling';

type Body = BodyOf<typeof api.selling.previewChange>;
type Preview = AnswerOf<typeof api.selling.previewChange>;

const standingsOf = ({ lines }: OrderView): LineStanding[] =>
  lines.map(({ id, itemId, position, goods, reserved, outstanding, requiredDate, promiseDate }) => ({
    id,
    itemId,
    position,
    goods,
    reserved: parseQuantity(reserved, QUANTITY_SCALE),
    open: parseQuantity(outstanding, QUANTITY_SCALE),
    requiredDate,
    promiseDate,
  }));

/** What was bought or made for a line, in words; nothing where only stock serves it. */
function suppliesIn(served: readonly PegView[]): string {
  const named = served.filter(({ kind }) => kind === 'receipt').map(({ id, quantity, due }) => `${id} (${quantity} on ${due})`);
  return named.length === 0 ? '' : `${named.join(', ')} ${named.length === 1 ? 'was' : 'were'} counted on: nobody takes that back by itself`;
}

/** A consequence in words; nothing where it needs none. */
function wordsOf(each: Consequence, supplies: string): string {
  const day = (date: string | null): string => date ?? 'no day';
  switch (each.kind) {
    case 'gone':
      return [each.before.reserved > 0 ? `goes: ${writeQuantity(each.before.reserved)} reserved become free` : 'goes', supplies]
        .filter(Boolean)
        .join('; ');
    case 'added':
      if (!each.after.goods) return 'is new';
      return `is new: ${writeQuantity(each.after.reserved)} of ${writeQuantity(each.after.open)} reserved, promised for ${day(each.after.promiseDate)}`;
    case 'reserved':
      return each.after.reserved < each.before.reserved
        ? `${writeQuantity(each.before.reserved - each.after.reserved)} reserved become free, ${writeQuantity(each.after.reserved)} stay`
        : `${writeQuantity(each.after.reserved - each.before.reserved)} more are reserved`;
    case 'promised':
      return `promised for ${day(each.after.promiseDate)} instead of ${day(each.before.promiseDate)}`;
    case 'fewer':
      return supplies;
  }
}

/** What a change would bring about; nothing of it is kept. */
function previewed(work: Work, id: number, body: Body, served: ReadonlyMap<number, readonly PegView[]>): Preview {
  const before = orderView(work, id);
  let beyondCredit = '';
  let after: OrderView;
  try {
    after = changeOrder(work, id, { ...body, beyondCredit: false });
  } catch (error) {
    if (!(error instanceof Refusal) || error.code !== 'beyondCredit') throw error;
    beyondCredit = error.message;
    after = changeOrder(work, id, { ...body, beyondCredit: true });
  }
  const codes = new Map([...after.lines, ...before.lines].map((line) => [line.itemId, line.code]));
  const rows = consequences(standingsOf(before), standingsOf(after)).flatMap((each) => {
    const line = 'after' in each ? each.after : each.before;
    const words = wordsOf(each, suppliesIn(served.get(line.id) ?? []));
    const trouble = (each.kind === 'promised' && each.later) || (each.kind === 'added' && each.after.goods && each.after.promiseDate === null);
    return words === '' ? [] : [{ position: line.position, code: codes.get(line.itemId) ?? '', words, trouble }];
  });
  return { rows, from: before.total, to: after.total, beyondCredit };
}

export function bindOrderChanges(binder: Binder, planner: LivePlanner): void {
  binder.task(api.selling.previewChange, async (commands: Commands, actor: Actor, { params, body }) => {
    const work = commands.look(actor);
    work.assertMay('selling.edit');
    const { number, lines, state } = orderView(work, params.id);
    const pegs =
      state === 'draft' ? [] : ((await planner.ask({ about: 'below', demands: lines.map(({ position }) => `${number}/${position}`) })).pegs ?? []);
    const served = new Map(lines.map(({ id }, index) => [id, pegs[index] ?? []]));
    return commands.tryOut(actor, (trial) => previewed(trial, params.id, body, served));
  });
}
