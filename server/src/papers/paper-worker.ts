/** Papers and labels, drawn in a thread of its own: a sheet of labels takes a tenth of a second, five hundred labels take seconds. */
import { renderPaper, type Paper } from '../platform/paper';
import { renderLabels, type Label } from './label-sheet';
import { giveWay } from '../platform/threads';

giveWay();

export type DrawTask = { readonly do: 'paper'; readonly paper: Paper } | { readonly do: 'labels'; readonly labels: readonly Label[] };

export default async function run(task: DrawTask): Promise<Uint8Array> {
  return task.do === 'paper' ? renderPaper(task.paper) : renderLabels(task.labels);
}
