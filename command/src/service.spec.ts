/**
 * The unit of docs/running.md, tried: systemd's own check takes it, and what it starts with its settings serves, and ends at its
 * signal in the time that it has. Where systemd is not here the check is skipped, and says so.
 */
import { spawn, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir, userInfo } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, describe, expect, it } from 'vitest';
import { untilUp } from '../../scripts/lib/up.mjs';

const root = fileURLToPath(new URL('../..', import.meta.url));
const PORT = 4384;
const folder = mkdtempSync(join(tmpdir(), 'terrace-service-'));
const hasSystemd = spawnSync('systemd-analyze', ['--version']).status === 0;
if (!hasSystemd) process.stdout.write('systemd is not here: the unit of docs/running.md is not checked by it\n');
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** The unit as the page has it, with the places of this test in it. */
function unit(): string {
  const page = readFileSync(join(root, 'docs/running.md'), 'utf8');
  const [, text = ''] = /```ini\n([\s\S]+?)```/.exec(page) ?? [];
  expect(text).toContain('ExecStart=/usr/bin/node dist/terrace.js serve');
  return text
    .replace('User=terrace', `User=${userInfo().username}`)
    .replace('WorkingDirectory=/opt/terrace', `WorkingDirectory=${root}`)
    .replaceAll('/var/lib/terrace', folder)
    .replace('/usr/bin/node', process.execPath);
}
const settingIn = (text: string, name: string): string => new RegExp(`^${name}=(.+)$`, 'm').exec(text)?.[1] ?? '';

describe('the unit of the service', () => {
  it.skipIf(!hasSystemd)('is taken by systemd’s own check, without a word', () => {
    const file = join(folder, 'terrace.service');
    writeFileSync(file, unit());
    const { status, stderr } = spawnSync('systemd-analyze', ['verify', file], { encoding: 'utf8' });
    expect(stderr.split('\n').filter((line) => line.includes('terrace.service'))).toEqual([]);
    expect(status).toBe(0);
  });

  it('starts a server that prints the code to found a company by, and ends at its signal in time', async () => {
    const text = unit();
    const [program = '', ...args] = settingIn(text, 'ExecStart').split(' ');
    const settings = Object.fromEntries(
      settingIn(text, 'Environment')
        .split(' ')
        .map((each) => each.split('=')),
    ) as Record<string, string>;
    const env = { ...process.env, ...settings, TERRACE_PORT: String(PORT), TERRACE_LOG: 'silent' };
    const server = spawn(program, args, { cwd: settingIn(text, 'WorkingDirectory'), env, stdio: ['ignore', 'pipe', 'inherit'] });
    let said = '';
    server.stdout.on('data', (chunk: Buffer) => (said += chunk.toString()));
    await untilUp(`http://127.0.0.1:${PORT}`, server);
    await expect.poll(() => said).toMatch(/[A-Z0-9]{4}-[A-Z0-9]{4}/);
    const ended = new Promise<number | null>((done) => server.once('exit', done));
    const began = performance.now();
    server.kill('SIGTERM');
    expect(await ended).toBe(0);
    expect(performance.now() - began).toBeLessThan(Number(settingIn(text, 'TimeoutStopSec')) * 1000);
  });
});
