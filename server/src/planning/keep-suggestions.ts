/** What the planner decides: to keep a suggestion, not to look at some for a while, to move or cancel what exists. */
import type { AnswerOf, BodyOf, api } from '@terrace/contract';
import { Refusal, parsePositiveQuantity, writeQuantity, type Quantity } from '@terrace/core';
import { cancelPurchaseLine, redatePurchaseLine } from '../buying';
import { itemFacts, supplierOf, usableItem, warehouseOf } from '../catalogue';
import { atField } from '../platform/fields';
import { addRow, changeRow, dropRow, dropRows, fetching, keepRow, orNotFound } from '../platform/rows';
import { assertSeen } from '../platform/versions';
import type { Work } from '../platform/work';
import { cancelProductionByNumber, redateProduction } from '../production';
import { assertAsSeen } from './as-seen';
import { exceptionOf, remedyOf } from './exceptions';
import { assertFresh, noteDone } from './release-suggestions';
import { planStateRow } from './plan-state';
import { planFirm, planIgnored } from './schema';
import { keptSuggestion, type KeptSuggestion } from './suggestions';

type Figures = Omit<BodyOf<typeof api.planning.changeFirm>, 'version'>;

/** Refuses figures that can't be kept. */
function readFigures(
  work: Work,
  itemId: number,
  warehouseId: number,
  figures: Figures,
): { quantity: Quantity; supplierId: number | null; fromId: number | null } {
  const item = usableItem(work, itemId);
  const quantity = atField('quantity', () => parsePositiveQuantity(figures.quantity, item.decimals, `the quantity of ${item.code}`));
  if (figures.due < work.today)
    throw new Refusal('badDate', `${figures.due} has passed: nothing can come before today, ${work.today}.`, { field: 'due' });
  if (figures.placeBy > figures.due)
    throw new Refusal('badDate', `It can't be placed on ${figures.placeBy} and come on ${figures.due} before that.`, { field: 'placeBy' });
  if (figures.kind === 'transfer') {
    const { fromId } = figures;
    if (fromId === null || fromId === warehouseId)
      throw new Refusal('sameWarehouse', 'A transfer needs another warehouse that it comes from.', { field: 'fromId' });
    atField('fromId', () => warehouseOf(work, fromId));
  }
  if (figures.supplierId !== null) atField('supplierId', () => supplierOf(work, figures.supplierId ?? 0));
  return { quantity, supplierId: figures.kind === 'buy' ? figures.supplierId : null, fromId: figures.kind === 'transfer' ? figures.fromId : null };
}

/** Keeps a suggestion as it is or changed: from now on every plan counts with it. */
export function keepSuggestion(work: Work, input: BodyOf<typeof api.planning.keepSuggestion>): AnswerOf<typeof api.planning.keepSuggestion> {
  const plan = assertFresh(work, input.seq, [input.name]);
  const row = orNotFound(notKept(keptSuggestion(plan, input.name)), `suggestion ${input.name}`);
  const { quantity, supplierId, fromId } = readFigures(work, row.itemId, row.warehouseId, input);
  const number = work.nextNumber('FP');
  const { kind, placeBy, due, note } = input;
  const { itemId, warehouseId } = row;
  const id = addRow(work, planFirm, { number, kind, itemId, warehouseId, fromId, supplierId, quantity, placeBy, due, note, userId: work.actor.id });
  work.record('plan', id, `kept ${writeQuantity(quantity)} ${row.unit} of ${row.code} as ${number}`);
  return { id, number };
}

const firmOf = fetching(planFirm, 'kept suggestion');

/** One that is kept already is changed, not kept again. */
const notKept = (row: KeptSuggestion | undefined): KeptSuggestion | undefined => (row?.firmId === null ? row : undefined);

/** Changes a suggestion that is kept. */
export function changeFirm(work: Work, id: number, input: BodyOf<typeof api.planning.changeFirm>): AnswerOf<typeof api.planning.changeFirm> {
  const firm = firmOf(work, id);
  assertSeen(firm, input.version, firm.number);
  const { quantity, supplierId, fromId } = readFigures(work, firm.itemId, firm.warehouseId, input);
  const { kind, placeBy, due, note } = input;
  changeRow(work, planFirm, id, { kind, quantity, placeBy, due, supplierId, fromId, note });
  work.record('plan', id, `changed ${firm.number}`);
  return { id, number: firm.number };
}

/** Leaves a kept suggestion to the plan again. */
export function dropFirm(work: Work, id: number): void {
  const firm = firmOf(work, id);
  dropRow(work, planFirm, id);
  work.record('plan', id, `left ${firm.number} to the plan again`);
}

/** Has nobody look at what is suggested for an item until a date; or at once again. */
export function ignoreSuggestions(work: Work, input: BodyOf<typeof api.planning.ignoreSuggestions>): void {
  const { code } = itemFacts(work, input.itemId);
  const warehouse = warehouseOf(work, input.warehouseId).code;
  const { until } = input;
  const { itemId, warehouseId, note } = input;
  if (until === null) dropRows(work, planIgnored, { itemId, warehouseId });
  else {
    if (until <= work.today)
      throw new Refusal('badDate', `Until ${until} is not ahead: choose a day after today, ${work.today}.`, { field: 'until' });
    keepRow(work, planIgnored, ['itemId', 'warehouseId'], { itemId, warehouseId, until, note, userId: work.actor.id });
  }
  work.record(
    'item',
    input.itemId,
    until === null ? `looks at suggestions of ${code} in ${warehouse} again` : `put suggestions of ${code} in ${warehouse} aside until ${until}`,
  );
}

/** Moves or cancels what exists as the plan says: everything that is chosen, or nothing. */
export function applyExceptions(work: Work, input: BodyOf<typeof api.planning.applyExceptions>): AnswerOf<typeof api.planning.applyExceptions> {
  const plan = assertFresh(
    work,
    input.seq,
    input.exceptions.map((each) => each.subject),
  );
  assertAsSeen(
    work,
    input.exceptions.map(({ subject }, index) => ({ name: subject, field: `exceptions.${index}` })),
    planStateRow(plan)?.historyId ?? 0,
  );
  const done = input.exceptions.map(({ kind, subject, seen }, index) => {
    const field = `exceptions.${index}`;
    const row = exceptionOf(plan, kind, subject);
    const remedy = remedyOf(work, kind, subject);
    if (row?.itemId !== seen.itemId || row.to !== seen.to || row.quantity !== seen.quantity)
      throw new Refusal('staleVersion', `The plan no longer says that of ${subject}: look again and choose anew.`, { field });
    if (remedy === null) throw new Refusal('notOffered', `Nothing can be done by itself about ${subject}: open it.`, { field });
    const [number = '', position] = subject.split('/');
    const reason = 'the plan needs it no more';
    const words =
      remedy === 'cancel'
        ? position === undefined
          ? cancelProductionByNumber(work, number, reason)
          : cancelPurchaseLine(work, number, Number(position), reason)
        : position === undefined
          ? redateProduction(work, number, row.to ?? work.today)
          : redatePurchaseLine(work, number, Number(position), row.to ?? work.today);
    noteDone(work, subject, { kind: position === undefined ? 'productionOrder' : 'purchaseOrder', id: 0, number });
    return { subject, words };
  });
  return { done };
}
