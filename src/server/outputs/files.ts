import exceljs from 'exceljs';
import { stringify } from 'csv-stringify/sync';
import { Zip, ZipPassThrough } from 'fflate';
import type { FrozenRun } from '../../core/job/document';
import { contentOf } from '../../core/payload/stamp';
import {
  isSecret,
  openKeyColumn,
  titleColumn,
  type Column,
  type Values,
} from '../../core/records/columns';
import { saysSecret } from '../../core/payload/secrets';
import type { Database } from '../platform';
import { fileOf } from './parts';

interface Item {
  seq: number;
  name: string | null;
  values: Values;
  parts: { name: string; bytes: Buffer }[];
}

/** The items of a run in order with their files, a batch at a time. */
async function* itemsOf(db: Database, runId: number): AsyncGenerator<Item> {
  const batch = 100;
  for (let from = 0; ; from += batch) {
    const range = { from, to: from + batch };
    const items = await db
      .selectFrom('run_items')
      .select(['seq', 'name', 'values'])
      .where('run_id', '=', runId)
      .where('seq', '>=', range.from)
      .where('seq', '<', range.to)
      .orderBy('seq')
      .execute();
    if (items.length === 0) return;
    const parts = await db
      .selectFrom('run_parts')
      .select(['seq', 'name', 'bytes'])
      .where('run_id', '=', runId)
      .where('seq', '>=', range.from)
      .where('seq', '<', range.to)
      .orderBy('seq')
      .orderBy('part')
      .execute();
    for (const item of items) yield { ...item, parts: parts.filter((p) => p.seq === item.seq) };
  }
}

/** The columns that are taken away: those that are shown, without secrets unless they were asked for. */
const taken = ({ columns, output }: FrozenRun): Column[] =>
  columns.filter((c) => !c.hidden && (output?.secrets || !isSecret(c, columns)));

/** All files of a run in one ZIP, in a folder of its own, so that no name clashes with another run's. Dates are the run's. */
export async function* zipFile(
  db: Database,
  runId: number,
  frozen: FrozenRun,
  folder: string,
): AsyncGenerator<Uint8Array> {
  let ready: Uint8Array[] = [];
  let failed: Error | undefined;
  const zip = new Zip((error, data) => {
    if (error) failed = error;
    else ready.push(data);
  });
  const mtime = new Date(frozen.date);
  const add = (name: string, bytes: Uint8Array) => {
    const file = new ZipPassThrough(`${folder}/${name}`);
    file.mtime = mtime;
    zip.add(file);
    file.push(bytes, true);
  };
  for await (const { parts } of itemsOf(db, runId)) {
    for (const part of parts) add(part.name, part.bytes);
    if (failed) throw failed;
    yield* ready;
    ready = [];
  }
  add('list.csv', new Uint8Array(Buffer.concat(await collect(csvFile(db, runId, frozen)))));
  zip.end();
  yield* ready;
}

async function collect(parts: AsyncIterable<Uint8Array>): Promise<Uint8Array[]> {
  const all: Uint8Array[] = [];
  for await (const part of parts) all.push(part);
  return all;
}

/** The list as CSV: its columns, what each code says, and the names of its files. */
export async function* csvFile(
  db: Database,
  runId: number,
  frozen: FrozenRun,
): AsyncGenerator<Uint8Array> {
  const columns = taken(frozen);
  const stamps = frozen.stamps.filter(
    (s) => frozen.output?.secrets || !saysSecret(s, frozen.columns),
  );
  const files = frozen.output?.kind === 'images' || frozen.output?.kind === 'pdf-each';
  const headings = [
    ...columns.map((c) => c.name),
    ...stamps.map((s) => `${s.name}, payload`),
    ...(files ? ['Files'] : []),
  ];
  yield Buffer.from(stringify([headings], { bom: true }));
  for await (const { values, parts } of itemsOf(db, runId)) {
    const payloads = stamps.map((stamp) => {
      const content = contentOf(stamp, values);
      return content.state === 'said' ? content.payload : '';
    });
    yield Buffer.from(
      stringify([
        [
          ...columns.map((c) => values[c.id] ?? ''),
          ...payloads,
          ...(files ? [parts.map((p) => p.name).join('; ')] : []),
        ],
      ]),
    );
  }
}

/** Pixels that a code takes beside its row. */
const shownPx = 84;

/** The list as a workbook, each code as a picture beside its row; every cell is text, so that no zero is lost. */
export async function workbookFile(
  db: Database,
  runId: number,
  frozen: FrozenRun,
): Promise<Uint8Array> {
  const book = new exceljs.Workbook();
  book.created = book.modified = new Date(frozen.date);
  const columns = taken(frozen);
  const sheet = book.addWorksheet('Records', { views: [{ state: 'frozen', ySplit: 1 }] });
  sheet.columns = [
    ...columns.map((c) => ({
      header: c.name,
      width: Math.min(40, Math.max(12, c.name.length + 3)),
      style: { numFmt: '@', alignment: { vertical: 'middle' as const } },
    })),
    ...frozen.stamps.map((s) => ({ header: s.name, width: 14 })),
  ];
  sheet.getRow(1).font = { bold: true };
  let at = 1;
  for await (const { values, name, parts } of itemsOf(db, runId)) {
    const row = sheet.addRow(columns.map((c) => values[c.id] ?? ''));
    row.height = (shownPx + 8) * 0.75;
    frozen.stamps.forEach((stamp, s) => {
      const part = parts.find((p) => p.name === `${fileOf(name ?? '', stamp, frozen.stamps)}.png`);
      if (!part) return;
      // width and height stand in the header of a PNG
      const [width, height] = [part.bytes.readUInt32BE(16), part.bytes.readUInt32BE(20)];
      const scale = shownPx / Math.max(width, height);
      const image = book.addImage({
        buffer: part.bytes as unknown as ArrayBuffer,
        extension: 'png',
      });
      sheet.addImage(image, {
        tl: { col: columns.length + s + 0.05, row: at + 0.04 },
        ext: { width: width * scale, height: height * scale },
        editAs: 'oneCell',
      });
    });
    at++;
  }
  return new Uint8Array(await book.xlsx.writeBuffer());
}

const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);

/** One page with every code, its title and its key: everything it shows is in it. */
export async function* contactSheet(
  db: Database,
  runId: number,
  frozen: FrozenRun,
  title: string,
): AsyncGenerator<Uint8Array> {
  const key = openKeyColumn(frozen.columns);
  const name = titleColumn(frozen.columns);
  yield Buffer.from(`<!doctype html>
<html lang="en"><meta charset="utf-8"><title>${escaped(title)}</title>
<style>body{font:14px/1.35 system-ui,sans-serif;margin:24px;color:#1d1a26}h1{font-size:22px}
ul{display:grid;grid-template-columns:repeat(auto-fill,minmax(150px,1fr));gap:22px;padding:0;list-style:none}
li{break-inside:avoid}img{display:block;width:130px;max-height:150px;object-fit:contain;object-position:left;margin-bottom:6px}
b{display:block;overflow-wrap:anywhere}code{font-size:12px;color:#575564;overflow-wrap:anywhere}</style>
<h1>${escaped(title)}</h1><ul>\n`);
  for await (const { values, parts } of itemsOf(db, runId)) {
    const said = escaped(values[name?.id ?? ''] ?? '');
    const images = parts
      .map(
        (p) =>
          `<img alt="Code of ${said}" src="data:image/svg+xml;base64,${p.bytes.toString('base64')}">`,
      )
      .join('');
    yield Buffer.from(
      `<li>${images}<b>${said}</b><code>${escaped(key && key !== name ? (values[key.id] ?? '') : '')}</code></li>\n`,
    );
  }
  yield Buffer.from('</ul></html>\n');
}
