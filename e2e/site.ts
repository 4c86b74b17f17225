/** Where the tests work: each file at a demo company of its own, so that no file minds what another has done. */
import { spawn } from 'node:child_process';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test as base } from '@playwright/test';
import { copyDemo, DEMO_TODAY } from '../scripts/lib/demo.mjs';
import { untilUp } from '../scripts/lib/up.mjs';

const ROOT = join(import.meta.dirname, '..');
const RESULTS = join(ROOT, 'test-results');
const FIRST_PORT = 4391;
const PATIENCE_MS = 300_000;

/** Starts Terrace on a folder and waits until it is up. */
export async function startTerrace(args: readonly string[], folder: string, port: number): Promise<{ url: string; stop: () => Promise<void> }> {
  const env = { ...process.env, TERRACE_PORT: String(port), TERRACE_DATA: folder, TERRACE_TODAY: DEMO_TODAY, TERRACE_LOG: 'error' };
  const terrace = spawn(process.execPath, [join(ROOT, 'dist/terrace.js'), ...args], { env, stdio: ['ignore', 'ignore', 'inherit'] });
  const url = `http://127.0.0.1:${port}`;
  await untilUp(url, terrace);
  const stop = async (): Promise<void> => {
    if (terrace.exitCode !== null) return;
    const ended = new Promise<void>((done) => terrace.once('exit', () => done()));
    terrace.kill('SIGTERM');
    await ended;
  };
  return { url, stop };
}

/** A test at the site of its file: `test.use({ file: 'name' })` at its head makes it one of its own. */
export const test = base.extend<object, { file: string; site: string }>({
  file: ['', { scope: 'worker', option: true }],
  site: [
    async ({ file }, use, { parallelIndex }) => {
      const folder = join(RESULTS, `site-${file}-${parallelIndex}`);
      rmSync(folder, { recursive: true, force: true });
      copyDemo(folder);
      const { url, stop } = await startTerrace(['serve'], folder, FIRST_PORT + parallelIndex);
      await use(url);
      await stop();
    },
    { scope: 'worker', auto: true, timeout: PATIENCE_MS },
  ],
  baseURL: async ({ site }, use) => use(site),
  // Nothing may go wrong behind what people see, whatever they do.
  context: async ({ context }, use) => {
    const faults: string[] = [];
    context.on('weberror', (each) => faults.push(each.error().stack ?? each.error().message));
    await use(context);
    expect(faults).toEqual([]);
  },
});
