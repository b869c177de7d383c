import { sql } from 'kysely';
import sharp from 'sharp';
import type { PaperFile, PaperTold, paperSchema } from '../../contract';
import type { z } from 'zod';
import { readImages } from '../../core/readback/readback';
import { keepable } from '../../core/records/keepable';
import type { GreyImage } from '../../core/artwork/raster';
import { finestRead } from '../../core/run/test-page';
import { readTestPage } from '../delivery';
import { greyPages } from '../documents';
import { type Database, enqueue, IntakeError, log, provideReader, Refusal } from '../platform';
import { printedFile, readPaperCard } from '../sources';
import { markFromPicture } from './paper';

type Picture = z.output<typeof paperSchema>['pictures'][number];

/** At which pages of a PDF are looked at: fine enough for modules of a quarter of a mm. */
const scanDpi = 300;
/** The width at which a picture is read, at most, in px. */
const largest = 5000;
const mostPixels = 120_000_000;
const mostPages = 200;
const mostCodes = 255;

/**
 * Accepts a scan of a run's printed sheets, to be read by a worker. @throws Refusal if it is
 * neither a PDF nor a picture
 */
export async function takePaperFile(
  db: Database,
  run: number,
  name: string,
  bytes: Buffer,
  actor: string,
): Promise<number> {
  kindOf(name, bytes);
  return db.transaction().execute(async (tx) => {
    const of = await tx
      .selectFrom('runs')
      .select('sheets')
      .where('id', '=', run)
      .executeTakeFirst();
    if (!of) throw new Refusal('This run no longer exists. It may have been deleted.', 404);
    if (of.sheets === 0)
      throw new Refusal(
        'This run made no sheets, so there is no paper to read. Choose a run that was printed.',
      );
    const { id } = await tx
      .insertInto('paper_files')
      .values({ run_id: run, name: keepable(name).slice(0, 200), bytes, made_by: actor })
      .returning('id')
      .executeTakeFirstOrThrow();
    await enqueue(tx, readPaperCard, { file: id }, { key: `paper-${id}` });
    return id;
  });
}

/** @throws Refusal in words */
function kindOf(name: string, bytes: Uint8Array): 'pdf' | 'picture' {
  const head = Buffer.from(bytes.subarray(0, 12));
  if (head.subarray(0, 5).toString('latin1') === '%PDF-') return 'pdf';
  if (
    head.subarray(0, 4).equals(Buffer.from([0x89, 0x50, 0x4e, 0x47])) ||
    head.subarray(0, 3).equals(Buffer.from([0xff, 0xd8, 0xff])) ||
    (head.subarray(0, 4).toString('latin1') === 'RIFF' &&
      head.subarray(8, 12).toString('latin1') === 'WEBP') ||
    /^(II\*\0|MM\0\*)/.test(head.toString('latin1'))
  )
    return 'picture';
  throw new Refusal(`${name} is not a PDF or a picture. Scan to PDF, PNG, JPEG or TIFF.`);
}

/** What reads on every page of a scan, from its bytes. @throws Refusal in words */
async function picturesOf(name: string, bytes: Buffer): Promise<Picture[]> {
  provideReader();
  const read = async (image: GreyImage, called: string): Promise<Picture> => ({
    name: called,
    width: image.width,
    height: image.height,
    codes: (await readImages(image, undefined, mostCodes)).map(({ text, middle }) => ({
      text: keepable(text),
      ...middle,
    })),
  });
  if (kindOf(name, bytes) === 'picture') return [await read(await greyOf(name, bytes), name)];
  const out: Picture[] = [];
  try {
    for await (const page of greyPages(bytes, { from: 0 }, scanDpi)) {
      if (out.length >= mostPages)
        throw new Refusal(`${name} has more than ${mostPages} pages. Scan it in parts.`);
      out.push(await read(page, `${name}, page ${out.length + 1}`));
    }
  } catch (error) {
    if (error instanceof Refusal) throw error;
    throw new Refusal(
      `${name} could not be opened: it is damaged, or locked. Save it again and try again.`,
    );
  }
  return out;
}

async function greyOf(name: string, bytes: Buffer): Promise<GreyImage> {
  try {
    const { data, info } = await sharp(bytes, { limitInputPixels: mostPixels })
      .timeout({ seconds: 30 })
      .rotate()
      .resize(largest, largest, { fit: 'inside', withoutEnlargement: true })
      .flatten({ background: '#fff' })
      .greyscale()
      .raw()
      .toBuffer({ resolveWithObject: true });
    return { width: info.width, height: info.height, pixels: new Uint8Array(data) };
  } catch {
    throw new Refusal(
      `${name} could not be opened: the picture is damaged, or far too large. Take it again and try again.`,
    );
  }
}

/**
 * Reads a scan and marks what it shows. Scans from the In-tray identify their run by their
 * pictures. Done twice, at once or again, it marks once.
 */
export async function readPaperFile(db: Database, id: number): Promise<void> {
  const file = await db
    .selectFrom('paper_files')
    .selectAll()
    .where('id', '=', id)
    .executeTakeFirst();
  if (file?.state !== 'waiting') return;
  let pictures: Picture[];
  try {
    pictures = await picturesOf(file.name, file.bytes ?? (await printedFile(file.tray_path!)));
  } catch (error) {
    if (!(error instanceof Refusal) && !(error instanceof IntakeError)) throw error;
    return failPaperFile(db, id, error.message);
  }
  await db.transaction().execute(async (tx) => {
    const waiting = await tx
      .selectFrom('paper_files')
      .select('state')
      .where('id', '=', id)
      .forUpdate()
      .executeTakeFirst();
    if (waiting?.state !== 'waiting') return;
    const told: PaperTold[] = [];
    for (const picture of pictures) {
      const run = file.run_id ?? (await runOf(tx, picture));
      told.push({
        run: run === undefined ? null : await named(tx, run),
        codes: picture.codes.length,
        picture: run === undefined ? null : await markFromPicture(tx, run, picture, file.made_by),
        testPage: run === undefined ? await testPageOn(tx, picture) : null,
      });
    }
    await tx
      .updateTable('paper_files')
      .set({ state: 'read', bytes: null, told: JSON.stringify(told) })
      .where('id', '=', id)
      .execute();
  });
  log.info({ file: id, pictures: pictures.length }, 'printed sheets were read');
}

/** Says of a scan that it is not read, and why, in words. */
export async function failPaperFile(db: Database, id: number, why: string): Promise<void> {
  await db
    .updateTable('paper_files')
    .set({ state: 'failed', bytes: null, error: why })
    .where('id', '=', id)
    .where('state', '=', 'waiting')
    .execute();
}

/**
 * The run that printed most codes of a picture, the latest of those; undefined if none printed any.
 */
async function runOf(tx: Database, { codes }: Picture): Promise<number | undefined> {
  const texts = [...new Set(codes.map((code) => code.text))];
  if (texts.length === 0) return undefined;
  const { rows } = await sql<{ run: number }>`
    select c.run_id as run from receipts c join runs u on u.id = c.run_id
    where c.payload = any(${texts}::text[]) and u.sheets > 0 and u.state = 'done'
    group by c.run_id order by count(distinct c.payload) desc, c.run_id desc limit 1`.execute(tx);
  return rows[0]?.run;
}

/**
 * Whether a picture shows the test page of one of the printers; then how fine that one prints is
 * known.
 */
async function testPageOn(tx: Database, { codes }: Picture): Promise<PaperTold['testPage']> {
  const texts = codes.map((code) => code.text);
  for (const { id, name } of await tx.selectFrom('printers').select(['id', 'name']).execute())
    if (finestRead(name, texts) !== null)
      return { printer: name, finest: await readTestPage(tx, id, texts) };
  return null;
}

const named = async (tx: Database, run: number): Promise<PaperTold['run']> => {
  const { id, name, job } = await tx
    .selectFrom('runs')
    .select(['id', 'name', 'job_id as job'])
    .where('id', '=', run)
    .executeTakeFirstOrThrow();
  return { id, name, job };
};

const shown = 30;

/** The latest scans: of a run, or those of the In-tray. */
export async function listPaperFiles(db: Database, of: number | 'tray'): Promise<PaperFile[]> {
  const rows = await db
    .selectFrom('paper_files')
    .select(['id', 'name', 'state', 'error', 'told', 'created_at'])
    .$if(of === 'tray', (q) => q.where('tray_path', 'is not', null))
    .$if(of !== 'tray', (q) => q.where('run_id', '=', of as number))
    .orderBy('id', 'desc')
    .limit(shown)
    .execute();
  return rows.map(({ created_at, told, ...row }) => ({
    ...row,
    told: told ?? [],
    at: created_at.toISOString(),
  }));
}
