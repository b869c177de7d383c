import { createHash } from 'node:crypto';
import { LRUCache } from 'lru-cache';
import { includes } from '../../core/access/rights';
import { escapedHtml } from '../../core/base/html';
import { codeIn } from '../../core/links/code';
import { pageOf, type PageSetDocument } from '../../core/links/pages';
import { columnsOf, contentOf, type Stamp } from '../../core/payload/stamp';
import { saysSecret } from '../../core/payload/secrets';
import type { Column, Values } from '../../core/records/columns';
import { rightOver, whoAsks } from '../access';
import { type Database, drawnCode } from '../platform';
import { noPageHere, plainPage, strangerPage } from '../links';
import { listPicture } from '../lists';

interface Found {
  list: number | null;
  record: number | null;
  values: Values | null;
  columns: Column[] | null;
  stamps: Stamp[] | null;
  document: PageSetDocument | null;
}

async function found(db: Database, id: string): Promise<Found | undefined> {
  return db
    .selectFrom('record_pages as p')
    .leftJoin('records as r', 'r.id', 'p.record_id')
    .leftJoin('lists as l', 'l.id', 'p.list_id')
    .leftJoin('page_sets as s', 's.list_id', 'p.list_id')
    .select([
      'p.list_id as list',
      'r.id as record',
      'r.values',
      'l.columns',
      'l.stamps',
      's.document',
    ])
    .where('p.id', '=', id)
    .executeTakeFirst();
}

/**
 * The page of a record as the visitor may see it: without scripts, not indexed, and in words if it
 * no longer exists.
 */
export async function recordPage(db: Database, id: string, request: Request): Promise<Response> {
  const page = /^[A-Za-z0-9_-]{22}$/.test(id) ? await found(db, id) : undefined;
  if (!page) return noPageHere();
  const { list, record, values, columns, document } = page;
  if (list === null || record === null || !values || !columns || !document)
    return plainPage(410, 'This page was removed', ['Its record is no longer kept here.']);
  if (!document.open)
    return plainPage(404, 'This page is closed at the moment', ['Please try again later.']);
  const inside = await isInside(db, list, request.headers);
  const shown = pageOf(document, columns, values, inside ? 'signed-in' : 'anyone');
  const picture = shown.picture && (await listPicture(db, list, shown.picture));
  const code = await codeOn(page);
  return strangerPage(
    shown.title || '(no title)',
    [
      picture
        ? `<img class="of" alt="" width="${picture.width}" height="${picture.height}" src="data:image/png;base64,${picture.png}">`
        : '',
      shown.lines.length > 0
        ? `<dl>${shown.lines.map(({ name, value }) => `<div><dt>${escapedHtml(name)}</dt><dd>${valueHtml(value)}</dd></div>`).join('')}</dl>`
        : '',
      code
        ? `<img class="code" alt="Code of this page’s record" src="data:image/svg+xml;base64,${code}">`
        : '',
      inside ? '<p class="small">You are signed in, so you see more than others.</p>' : '',
    ].join(''),
  );
}

/** A web address becomes a link; everything else is text. */
const valueHtml = (value: string): string =>
  /^https?:\/\/[^\s"<>]+$/i.test(value) && codeIn(value) === undefined
    ? `<a rel="noreferrer nofollow" href="${escapedHtml(value)}">${escapedHtml(value)}</a>`
    : escapedHtml(value);

/** Whether a person is signed in who may see the list. */
async function isInside(db: Database, list: number, headers: Headers): Promise<boolean> {
  const person = await whoAsks(db, headers);
  return person !== undefined && includes(await rightOver(db, person, 'list', list), 'viewer');
}

const drawings = new LRUCache<string, string>({ max: 2000 });

/**
 * The code of the stamp on pages, as SVG in base64; undefined if it does not read back, or contains
 * a secret.
 */
async function codeOn({ document, stamps, values, columns }: Found): Promise<string | undefined> {
  const stamp = stamps?.find((s) => s.id === document?.stamp);
  if (!stamp || !values || !columns || saysSecret(stamp, columns)) return undefined;
  if (contentOf(stamp, values).state !== 'said') return undefined;
  const key = createHash('sha256')
    .update(JSON.stringify([stamp, columnsOf(stamp).map((id) => values[id] ?? '')]))
    .digest('base64');
  const known = drawings.get(key);
  if (known) return known;
  const made = await drawnCode(stamp, values, 'svg').catch(() => undefined);
  if (!made?.reads) return undefined;
  const svg = Buffer.from(made.bytes).toString('base64');
  drawings.set(key, svg);
  return svg;
}
