/** Papers and labels, drawn in a thread of its own: a sheet of labels takes a tenth of a second, five hundred labels take seconds. */
import type { Receipt } from '@terrace/core';
import { renderPaper, renderPapers, type Paper } from '../platform/paper';
import { renderLabels, type Label } from './label-sheet';
import { renderReceipt } from './receipt-roll';
import { giveWay } from '../platform/threads';

giveWay();

export type DrawTask =
  | { readonly do: 'receipt'; readonly receipt: Receipt }
  | { readonly do: 'paper'; readonly paper: Paper }
  | { readonly do: 'papers'; readonly papers: readonly Paper[] }
  | { readonly do: 'labels'; readonly labels: readonly Label[] };

export default async function run(task: DrawTask): Promise<Uint8Array> {
  switch (task.do) {
    case 'paper':
      return renderPaper(task.paper);
    case 'papers':
      return renderPapers(task.papers);
    case 'labels':
      return renderLabels(task.labels);
    case 'receipt':
      return renderReceipt(task.receipt);
  }
}
