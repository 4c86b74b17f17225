/** What the plan says of what exists: to be moved, cancelled, looked at. */
import { and, eq, ne, sql } from 'drizzle-orm';
import type { AnswerOf, ExceptionRow, ListQuery, api } from '@terrace/contract';
import { documentNumbered } from '../platform/documents';
import { asNumber, asText, list, listPage } from '../platform/list';
import { query } from '../platform/query';
import type { Work } from '../platform/work';
import { exception } from './plan-schema';

const WORDS: Readonly<Record<string, (figure: string) => string>> = {
  bringForward: (figure) => `Bring ${figure} forward`,
  pushBack: (figure) => `Push ${figure} back`,
  cancel: (figure) => `Cancel ${figure}: not needed`,
  overdueReceipt: (figure) => `Should have come already: ${figure}`,
  overdueDemand: (figure) => `Wanted already: ${figure}`,
  expires: (figure) => `Will expire unused: ${figure}`,
  short: (figure) => `Missing, and nothing says from where: ${figure}`,
};

const REMEDIES: Readonly<Record<string, 'redate' | 'cancel'>> = {
  bringForward: 'redate',
  pushBack: 'redate',
  overdueReceipt: 'redate',
  cancel: 'cancel',
};

/** What can be done about an exception by itself: only orders to suppliers and to our own floor can be moved. */
export function remedyOf(work: Work, kind: string, subject: string): 'redate' | 'cancel' | null {
  const remedy = REMEDIES[kind];
  const [number = ''] = subject.split('/');
  return remedy && documentNumbered(work, number, ['purchaseOrder', 'productionOrder']) ? remedy : null;
}

const urgency = sql`case ${exception.kind}
  when 'overdueReceipt' then 1 when 'bringForward' then 2 when 'short' then 3 when 'overdueDemand' then 4 when 'cancel' then 5 else 6 end`;

const exceptions = list(() => ({
  columns: {
    id: asNumber(exception.id),
    kind: asText(exception.kind),
    subject: asText(exception.subject),
    itemId: asNumber(exception.itemId),
    code: asText(exception.code),
    description: asText(exception.description),
    warehouse: asText(exception.warehouse),
    from: asText(exception.fromDate),
    to: asText(exception.toDate),
    quantity: { of: sql`cast(${exception.quantity} as real)`, type: 'text', written: exception.quantity },
    unit: asText(exception.unit),
  },
  from: exception,
  // A suggestion that is placed late says so itself.
  where: ne(exception.kind, 'placeLate'),
  find: [exception.code, exception.description, exception.subject, exception.kind],
  order: [urgency, exception.fromDate],
  tie: [exception.id],
}));

export function listExceptions(work: Work, asked: ListQuery): AnswerOf<typeof api.planning.listExceptions> {
  const plan = work.plan();
  const { rows, total } = listPage<Omit<ExceptionRow, 'words' | 'remedy'>>(plan, exceptions, asked);
  const remedies = { redate: 'Move it', cancel: 'Cancel it' } as const;
  return {
    rows: rows.map((row) => {
      const remedy = remedyOf(work, row.kind, row.subject);
      return { ...row, words: WORDS[row.kind]?.(`${row.quantity} ${row.unit}`) ?? row.kind, remedy: remedy === null ? '' : remedies[remedy] };
    }),
    total,
  };
}

const said = query(
  ($: { kind: string; subject: string }) => (db) =>
    db
      .select({ itemId: exception.itemId, to: exception.toDate, quantity: exception.quantity })
      .from(exception)
      .where(and(eq(exception.kind, $.kind), eq(exception.subject, $.subject))),
);

/** What the plan says of a subject now. */
export function exceptionOf(
  plan: Work,
  kind: string,
  subject: string,
): { readonly itemId: number; readonly to: string | null; readonly quantity: string } | undefined {
  return said.one(plan, { kind, subject });
}
