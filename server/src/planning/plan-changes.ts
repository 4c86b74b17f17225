/** What the plan can't read, and how it differs from the one before. */
import { gt, sql } from 'drizzle-orm';
import type { AnswerOf, DifferenceRow, ListQuery, ProblemRow, api } from '@terrace/contract';
import { asNumber, asOptionalNumber, asText, list, listPage } from '../platform/list';
import type { Work } from '../platform/work';
import { difference, problem } from './plan-schema';

const problems = list(() => ({
  columns: {
    id: asNumber(problem.id),
    code: asText(problem.code),
    subject: asText(problem.subject),
    message: asText(problem.message),
    itemId: asOptionalNumber(problem.itemId),
    warehouseId: asOptionalNumber(problem.warehouseId),
  },
  from: problem,
  find: [problem.message, problem.subject],
  order: [problem.code, problem.subject],
  tie: [problem.id],
}));

export function listProblems(work: Work, asked: ListQuery): AnswerOf<typeof api.planning.listProblems> {
  return listPage<ProblemRow>(work.plan(), problems, asked);
}

const differences = list(($: { since: number }) => ({
  columns: {
    id: asNumber(difference.id),
    seq: asNumber(difference.seq),
    at: asText(difference.at),
    itemId: asNumber(difference.itemId),
    code: asText(difference.code),
    description: asText(difference.description),
    warehouse: asText(difference.warehouse),
    kind: asText(difference.kind),
    change: asText(difference.change),
    before: asText(difference.before),
    after: asText(difference.after),
    cause: asText(difference.cause),
  },
  from: difference,
  where: gt(difference.seq, $.since),
  find: [difference.code, difference.description, difference.cause],
  order: [sql`${difference.seq} desc`, difference.code],
  tie: [difference.id],
}));

export function listDifferences(work: Work, asked: ListQuery & { since: number }): AnswerOf<typeof api.planning.listDifferences> {
  return listPage<DifferenceRow, { since: number }>(work.plan(), differences, asked, { since: asked.since });
}
