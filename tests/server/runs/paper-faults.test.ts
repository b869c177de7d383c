import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { GreyImage } from '../../../src/core/artwork/raster';
import {
  paperFaults,
  printedSheet,
  type PaperFault,
} from '../../../src/core/readback/paper-faults';
import { readImages } from '../../../src/core/readback/readback';
import { greyPages } from '../../../src/server/documents';
import { provideReader } from '../../../src/server/platform/reader';
import { readFilePieces } from '../../../src/server/platform/files';
import { viewRun } from '../../../src/server/runs';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { runsIn } from '../../helpers/runs';

/**
 * Sheets under every fault of the test printer, with seeds: how many codes each of two readers
 * finds, ours and an independent one.
 */
let t: TestDatabase;
const dpi = 200;
/** Sheets of every fault; `HAND_STAMP_SHEETS=4` prints the twenty of decision 63. */
const sheets = Number(process.env.HAND_STAMP_SHEETS ?? 1);
const folder = mkdtempSync(join(tmpdir(), 'hand-stamp-sheets-'));
beforeAll(async () => {
  t = await testDatabase();
  provideReader();
});
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await t.close();
});
const { job, run } = runsIn(() => t);

async function sheet(): Promise<{ image: GreyImage; texts: Set<string> }> {
  const rows = Array.from({ length: 21 }, (_, i) => [`N-${100 + i}`, `Plant ${i}`]);
  const { id } = await job(['No', 'Name'], ['key', 'name'], rows);
  const made = await run(id, { name: 'Labels', which: 'ready', ticked: [] });
  const { files } = await viewRun(t.db, made);
  const parts: Uint8Array[] = [];
  for await (const part of readFilePieces(t.db, files.find((f) => f.name.endsWith('.pdf'))!.id))
    parts.push(part);
  for await (const image of greyPages(Buffer.concat(parts), { from: 0 }, dpi))
    return { image, texts: new Set(rows.map((row) => row[0]!)) };
  throw new Error('no page');
}

async function byOther({ width, height, pixels }: GreyImage): Promise<string[]> {
  const path = join(folder, 'sheet.png');
  writeFileSync(
    path,
    await sharp(pixels, { raw: { width, height, channels: 1 } })
      .png()
      .toBuffer(),
  );
  try {
    const said = execFileSync('zbarimg', ['--nodbus', '--raw', '-q', path], {
      encoding: 'utf8',
    });
    return said.split('\n').filter((line) => line !== '');
  } catch (error) {
    // it exits with 4 if it finds nothing
    if ((error as { status?: number }).status === 4) return [];
    throw error;
  }
}

test('printed sheets under seeded faults, by two readers', async () => {
  const { image, texts } = await sheet();
  const read = async (faults: PaperFault[], seed: number) => {
    const paper = printedSheet(image, dpi, faults, seed);
    const found = (codes: readonly string[]) =>
      new Set(codes.filter((code) => texts.has(code))).size;
    const ours = await readImages(paper, undefined, 255);
    // nothing that was not printed is ever read
    expect(ours.filter((one) => !texts.has(one.text))).toEqual([]);
    return { ours: found(ours.map((one) => one.text)), other: found(await byOther(paper)) };
  };
  const whole = await read([], 1);
  expect(whole.ours).toBe(texts.size);
  // the other one misses some of many codes in one picture even so
  expect(whole.other).toBeGreaterThan(texts.size / 2);
  const told: Record<string, { ours: number; other: number; of: number }> = {};
  for (const { id } of paperFaults)
    for (let seed = 1; seed <= sheets; seed++) {
      const { ours, other } = await read([id], seed);
      const before = (told[id] ??= { ours: 0, other: 0, of: 0 });
      before.ours += ours;
      before.other += other;
      before.of += texts.size;
    }
  if (sheets > 1) console.table(told);
  // a sheet drawn in askew and ink that spreads a little cost nothing; the others cost some, and
  // never most
  for (const [fault, { ours, of }] of Object.entries(told))
    expect([fault, ours / of > 0.5]).toEqual([fault, true]);
  expect(told.offset!.ours).toBe(told.offset!.of);
});

test('the same seed gives the same sheet, and each fault is its own', async () => {
  const { image } = await sheet();
  const small = { ...image, height: 400, pixels: image.pixels.subarray(0, image.width * 400) };
  const ink = (one: GreyImage) => one.pixels.reduce((sum, grey) => sum + (255 - grey), 0);
  const plain = printedSheet(small, dpi, [], 7);
  expect(printedSheet(small, dpi, [], 7).pixels).toEqual(plain.pixels);
  expect(printedSheet(small, dpi, [], 8).pixels).not.toEqual(plain.pixels);
  expect(ink(printedSheet(small, dpi, ['spread'], 7))).toBeGreaterThan(ink(plain) * 1.05);
  expect(ink(printedSheet(small, dpi, ['toner'], 7))).toBeLessThan(ink(plain) * 0.8);
  for (const fault of ['nozzle', 'crease', 'offset'] as const)
    expect(printedSheet(small, dpi, [fault], 7).pixels).not.toEqual(plain.pixels);
});
