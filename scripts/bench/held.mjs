// Loaded into a server before everything else: on SIGUSR2 it writes for how long the main thread was held up at most
// since it was last asked, in milliseconds.
import { writeFileSync } from 'node:fs';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { isMainThread } from 'node:worker_threads';

if (isMainThread) {
  const delay = monitorEventLoopDelay({ resolution: 1 });
  delay.enable();
  process.on('SIGUSR2', () => {
    writeFileSync(process.env.TERRACE_HELD, String(delay.max / 1e6));
    delay.reset();
  });
}
