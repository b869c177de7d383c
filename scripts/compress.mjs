/**
 * Lays a Brotli and a gzip form beside each script and style of the build, for `src/web.ts` to
 * send: once and as small as it gets, instead of for each request as fast as it goes.
 */
import { readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { brotliCompress, gzip } from 'node:zlib';
import { root } from './lib-setup.mjs';

const forms = [
  ['.br', promisify(brotliCompress)],
  ['.gz', promisify(gzip)],
];
const folder = join(root, '.next/static');
const files = (await readdir(folder, { recursive: true })).filter((f) => /\.(js|css)$/.test(f));
await Promise.all(
  files.map(async (file) => {
    const bytes = await readFile(join(folder, file));
    for (const [ending, compress] of forms)
      await writeFile(join(folder, file + ending), await compress(bytes));
  }),
);
