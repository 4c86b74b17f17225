/** Builds the demo company that every file of tests begins with. */
import { BUILT, startTerrace } from './site';

export default async function buildDemo(): Promise<void> {
  const { stop } = await startTerrace(['demo', '--reset'], BUILT, 4390);
  await stop();
}
