/** How a run over many orders went, in words. */
import type { OrderRun } from '@terrace/contract';
import { grouped } from '../ui/format';

export function runWords({ state, total, done, refused }: OrderRun): string {
  const left = total - done - refused;
  const parts = [`${grouped(done)} done`];
  if (refused > 0) parts.push(`${grouped(refused)} refused`);
  if (state === 'running') parts.push(`${grouped(left)} to come`);
  else if (left > 0) parts.push(`${grouped(left)} untouched`);
  const why = state === 'stopped' ? 'Stopped: ' : state === 'cut' ? 'Cut short as the server ended: ' : '';
  return `${why}${parts.join(', ')}`;
}
