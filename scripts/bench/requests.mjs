// A minute of requests that are made up from the contract and bent: how many, and that none is answered with a fault.
import { runSpec } from '../lib/spec.mjs';
import { sized } from './figures.mjs';

process.exit(runSpec('server/src/fuzz.spec.ts', { FUZZ_SECONDS: String(sized(60, 3)) }));
