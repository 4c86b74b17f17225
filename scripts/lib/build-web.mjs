// Builds one project of the web. The builder's own threads sometimes keep it from ending on machines with few cores, so
// it is ended here once it has said where its output is.
import { spawn } from 'node:child_process';
import { existsSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './prepare.mjs';

const project = process.argv[2] ?? 'terrace';
const most = 10 * 60_000;
const output = join(root, 'web/dist', project);
rmSync(output, { recursive: true, force: true });
const child = spawn(process.execPath, [join(root, 'node_modules/@angular/cli/bin/ng.js'), 'build', project], {
  cwd: join(root, 'web'),
  env: { ...process.env, NG_CLI_ANALYTICS: 'false', CI: 'true' },
  stdio: ['ignore', 'pipe', 'pipe'],
});
let said = '';
let built = false;
const hear = (chunk) => {
  said += chunk;
  const failed = said.includes('bundle generation failed');
  if (built || (!failed && !said.includes('Output location'))) return;
  built = !failed;
  setTimeout(() => child.kill('SIGKILL'), 500);
};
child.stdout.setEncoding('utf8').on('data', hear);
child.stderr.setEncoding('utf8').on('data', hear);
const limit = setTimeout(() => child.kill('SIGKILL'), most);
child.on('exit', (code) => {
  clearTimeout(limit);
  const whole = (built || code === 0) && existsSync(join(output, 'browser/index.html'));
  if (!whole || process.env.TERRACE_BUILD_SAYS) process.stderr.write(said);
  process.exitCode = whole ? 0 : 1;
});
