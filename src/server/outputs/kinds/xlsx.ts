import { newWorkbook } from '../../platform';
import { codePictures, fileOf } from '../code-parts';
import { itemsOf, taken } from '../items';
import type { OutputMaker, RunToAssemble } from '../maker';

export const xlsx: OutputMaker = {
  perRecord: (frozen, record) => codePictures(frozen, record, 'png'),
  assemble: async (run) => ({
    ending: '.xlsx',
    mime: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    bytes: once(await workbook(run)),
  }),
};

async function* once(bytes: Uint8Array): AsyncGenerator<Uint8Array> {
  yield bytes;
}

/** Pixels that a code takes beside its row. */
const shownPx = 84;

/**
 * The list as a workbook, each code as a picture beside its row; every cell is text, so that no
 * zero is lost.
 */
async function workbook({ db, runId, frozen }: RunToAssemble): Promise<Uint8Array> {
  const book = await newWorkbook();
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
      // width and height are in the header of a PNG
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
