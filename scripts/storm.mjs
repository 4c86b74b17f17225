// `npm run storm`: fifty people at random over the stores for a minute, three who mean ill beside them half of the time, the
// server killed three times in between.
import { prepareServer } from './lib/prepare.mjs';
import { runSpec } from './lib/spec.mjs';

prepareServer();
process.exit(runSpec('command/src/storm.spec.ts', { STORM_SECONDS: '60' }));
