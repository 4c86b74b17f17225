// Bytes (gzip) that the first load of the sign-in page takes, against an empty page of Angular and NG-ZORRO.
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { root } from '../lib/prepare.mjs';

const built = (project) => join(root, 'web/dist', project, 'browser');
if (!existsSync(join(built('empty'), 'index.html'))) {
  const { status } = spawnSync(process.execPath, [join(root, 'scripts/lib/build-web.mjs'), 'empty'], { stdio: 'inherit' });
  if (status !== 0) process.exit(1);
}

// Scripts and styles that index.html names, and what they import without being asked.
function firstLoad(project) {
  const folder = built(project);
  const waiting = [...readFileSync(join(folder, 'index.html'), 'utf8').matchAll(/(?:src|href)="([\w-]+\.(?:js|css))"/g)].map((match) => match[1]);
  const seen = new Set();
  let bytes = gzipSync(readFileSync(join(folder, 'index.html'))).length;
  for (let name = waiting.pop(); name; name = waiting.pop()) {
    if (seen.has(name)) continue;
    seen.add(name);
    const content = readFileSync(join(folder, name));
    bytes += gzipSync(content).length;
    if (name.endsWith('.js'))
      waiting.push(...[...content.toString().matchAll(/(?:^|[;}])import(?:[^"'()]*from)?["']\.\/([\w-]+\.js)["']/g)].map((match) => match[1]));
  }
  return { bytes, files: seen.size };
}

const [ours, empty] = [firstLoad('terrace'), firstLoad('empty')];
console.log('\nFirst load, scripts and styles, gzip');
console.log(`  Terrace          ${(ours.bytes / 1000).toFixed(1)} kB in ${ours.files} files`);
console.log(`  empty page       ${(empty.bytes / 1000).toFixed(1)} kB in ${empty.files} files`);
console.log(`  ratio            ${(ours.bytes / empty.bytes).toFixed(2)}   (aim: at most 1.6)`);
