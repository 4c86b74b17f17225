// Bytes (gzip) that the first load of the sign-in page takes, against an empty page of Angular and NG-ZORRO; and what each
// room takes with all its pages, beyond the frame, AG Grid and charts.
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { root } from '../lib/prepare.mjs';
import { figure } from './figures.mjs';

const built = (project) => join(root, 'web/dist', project, 'browser');

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
  return { bytes, files: seen.size, seen };
}

// Whole packages that a room does not answer for, by what only they contain.
const BEYOND = [/ag-root-wrapper/, /maintainAspectRatio/];
const MOST_OF_A_ROOM = 250_000;
const contentOf = (name) => readFileSync(join(built('terrace'), name), 'utf8');
const imported = (content) => [...content.matchAll(/(?:^|[;}])import(?:[^"'()]*from)?["']\.\/([\w-]+\.js)["']/g)].map((match) => match[1]);
const later = (content) => [...content.matchAll(/import\(["']\.\/([\w-]+\.js)["']\)/g)].map((match) => match[1]);

// A script and what it imports without being asked.
function closure(entries, known = new Set()) {
  const [waiting, seen] = [[...entries], new Set()];
  for (let name = waiting.pop(); name; name = waiting.pop()) {
    if (seen.has(name) || known.has(name)) continue;
    seen.add(name);
    waiting.push(...imported(contentOf(name)));
  }
  return seen;
}
const bytesOf = (names) =>
  [...names]
    .map(contentOf)
    .filter((content) => !BEYOND.some((mark) => mark.test(content)))
    .reduce((sum, content) => sum + gzipSync(content).length, 0);

const [ours, empty] = [firstLoad('terrace'), firstLoad('empty')];
console.log('\nFirst load, scripts and styles, gzip');
figure('first load: Terrace', ours.bytes / 1000, { unit: 'kB', digits: 1 });
figure('first load: an empty page of the frameworks', empty.bytes / 1000, { unit: 'kB', digits: 1 });
figure('first load: ratio', ours.bytes / empty.bytes, { most: 1.4 });

const main = [...ours.seen].filter((name) => name.endsWith('.js')).map(contentOf);
const frameEntry = readdirSync(built('terrace')).find((name) => name.endsWith('.js') && contentOf(name).includes('selectors:[["t-frame"]]'));
const frame = closure([frameEntry], ours.seen);
figure('first load: frame around every screen, once signed in', bytesOf(frame) / 1000, { unit: 'kB', digits: 1 });

const known = new Set([...ours.seen, ...frame]);
const rooms = main
  .flatMap((content) => [...content.matchAll(/path:"([\w-]+)",loadChildren:\(\)=>import\("\.\/(chunk-[\w-]+\.js)"\)/g)])
  .map(([, path, entry]) => {
    const routes = closure([entry], known);
    const pages = closure(
      [...routes].flatMap((name) => later(contentOf(name))),
      known,
    );
    return { path, bytes: bytesOf(new Set([...routes, ...pages])) };
  })
  .sort((a, b) => b.bytes - a.bytes);
console.log('\nRooms with all their pages, gzip, beyond the frame, AG Grid and charts (reach: at most 250 kB each)');
for (const { path, bytes } of rooms) figure(`first load: room ${path}`, bytes / 1000, { unit: 'kB', digits: 1, most: MOST_OF_A_ROOM / 1000 });
