/**
 * `npm run graph`: draws which rooms use which into docs/rooms.svg, from the imports themselves; an
 * arrow that points up is drawn red.
 */
import { spawnSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { needPackages, root, say } from './lib-setup.mjs';

needPackages();
const { status, stdout } = spawnSync(
  process.execPath,
  [
    'node_modules/dependency-cruiser/bin/dependency-cruise.mjs',
    'src',
    '--config',
    '--output-type',
    'json',
  ],
  { cwd: root, encoding: 'utf8', maxBuffer: 2 ** 28 },
);
if (status !== 0) throw new Error('the imports could not be read');

/** Rooms from the lowest up, floor by floor; the same orders as in the boundaries. */
const order = JSON.parse(readFileSync(join(root, 'scripts/rooms.json'), 'utf8'));
const floors = [
  ['core', order.core],
  ['', ['contract']],
  ['server', order.server],
  ['', ['workers']],
  ['ui', order.ui],
  ['', ['app']],
];
const rooms = floors.flatMap(([floor, names]) =>
  names.map((name) => (floor ? `${floor}/${name}` : name)),
);
const roomOf = (file) => {
  const path = file.replace(/^src\//, '');
  return rooms.find((room) => path.startsWith(`${room}/`));
};

/** How many imports lead from one room to another. */
const arrows = new Map();
for (const { source, dependencies } of JSON.parse(stdout).modules) {
  const from = roomOf(source);
  for (const { resolved } of dependencies) {
    const to = roomOf(resolved);
    if (!from || !to || from === to) continue;
    const key = `${from} ${to}`;
    arrows.set(key, (arrows.get(key) ?? 0) + 1);
  }
}

const [row, left, top, width] = [26, 190, 46, 900];
const place = new Map();
let y = top;
const labels = [];
for (const [floor, names] of [...floors].reverse()) {
  labels.push(`<text x="16" y="${y + 5}" class="floor">${floor || names[0]}</text>`);
  for (const name of [...names].reverse()) {
    place.set(floor ? `${floor}/${name}` : name, y);
    if (floor) labels.push(`<text x="${left - 14}" y="${y + 4}" text-anchor="end">${name}</text>`);
    labels.push(`<circle cx="${left}" cy="${y}" r="4"/>`);
    y += row;
  }
  y += 14;
}
let up = 0;
const paths = [...arrows]
  .sort(([a], [b]) => (a < b ? -1 : 1))
  .map(([key, count]) => {
    const [from, to] = key.split(' ').map((room) => place.get(room));
    const wrong = to < from;
    if (wrong) up++;
    const reach = 30 + Math.abs(to - from) * 1.1;
    const title = `<title>${key.replace(' ', ' uses ')}: ${count} import${count === 1 ? '' : 's'}</title>`;
    return `<path class="${wrong ? 'up' : 'down'}" stroke-width="${Math.min(4, 0.5 + count / 25).toFixed(1)}" d="M${left} ${from}C${left + reach} ${from} ${left + reach} ${to} ${left} ${to}">${title}</path>`;
  });
const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${y + 10}" font-family="sans-serif" font-size="12">
<style>path{fill:none;stroke:#5b4b8a;opacity:.45}path.up{stroke:#c0392b;opacity:1}text{fill:#1d1a26}.floor{font-weight:700}circle{fill:#1d1a26}</style>
<rect width="100%" height="100%" fill="#fff"/>
<text x="16" y="22">Which room uses which: each line goes from a room down to one that it uses; its width is the number of imports. ${up === 0 ? 'None points up.' : `${up} point up (red).`}</text>
${paths.join('\n')}
${labels.join('\n')}
</svg>
`;
writeFileSync(join(root, 'docs/rooms.svg'), svg);
say(`docs/rooms.svg: ${rooms.length} rooms, ${arrows.size} uses, ${up} of them up.`);
process.exit(up === 0 ? 0 : 1);
