import { afterAll, beforeAll, expect, test } from 'vitest';
import { readImages } from '../../src/core/readback/readback';
import { provideReader } from '../../src/server/platform/reader';
import { readFilePieces } from '../../src/server/platform/files';
import { readFromPaper, receiptPages, receiptPart, viewRun } from '../../src/server/runs';
import { testDatabase, type TestDatabase } from '../helpers/database';
import { renderPdf } from '../helpers/poppler';
import { runsIn } from '../helpers/runs';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
  provideReader();
});
afterAll(() => t.close());
const { job, run } = runsIn(() => t);

const many = (n: number, first = 1) =>
  Array.from({ length: n }, (_, i) => [`P-${String(first + i).padStart(3, '0')}`, `Plant ${i}`]);

/** The printed pages of a run as pictures. */
async function pictures(id: number): Promise<Uint8Array[]> {
  const { files } = await viewRun(t.db, id);
  const pdf = files.find((f) => f.name.endsWith('.pdf') && !f.name.includes('receipt'))!;
  const parts: Uint8Array[] = [];
  for await (const part of readFilePieces(t.db, pdf.id)) parts.push(part);
  return renderPdf(Buffer.concat(parts), 200, 'png');
}
const at = (text: string) => ({ text, x: 0, y: 0 });
const codesOn = async (picture: Uint8Array) =>
  (await readImages(new Uint8Array(picture), undefined, 255)).map((one) => ({
    text: one.text,
    ...one.middle,
  }));

test('pictures of printed sheets say which codes read from the paper, which page is not there, and what is of another run', async () => {
  const { id } = await job(['No', 'Name'], ['key', 'name'], many(40));
  const made = await run(id, { name: 'Labels', which: 'ready', ticked: [] });
  const sheets = await pictures(made);
  const pages = await receiptPages(t.db, made);
  expect(sheets).toHaveLength(pages.length);
  expect(pages.length).toBeGreaterThan(1);
  const first = await codesOn(sheets[0]!);
  expect(first).toHaveLength(pages[0]!.codes);
  // two are spoilt; one that is of nobody lies beside
  const told = await readFromPaper(
    t.db,
    made,
    [{ name: 'sheet.jpg', codes: [...first.slice(2), at('nobody'), at('a\u0000b')] }],
    'Ines',
  );
  expect(told).toEqual([
    {
      name: 'sheet.jpg',
      found: first.length - 2,
      pages: [1],
      other: 2,
      otherRuns: [],
      misplaced: [],
    },
  ]);
  const now = await receiptPages(t.db, made);
  expect(now.map((p) => p.paper)).toEqual([first.length - 2, ...pages.slice(1).map(() => 0)]);
  const lines = await receiptPart(t.db, made, { page: 1 });
  expect(
    lines
      .filter((l) => l.paper === 'not-read')
      .map((l) => l.payload)
      .sort(),
  ).toEqual(
    first
      .slice(0, 2)
      .map((one) => one.text)
      .sort(),
  );
  expect((await receiptPart(t.db, made, { page: 2 })).every((l) => l.paper === null)).toBe(true);
  // another picture of the same sheet adds what that one shows
  await readFromPaper(t.db, made, [{ name: 'again.jpg', codes: first }], 'Ines');
  expect((await receiptPages(t.db, made))[0]!.paper).toBe(first.length);
  // two labels that were peeled off and stuck on the other's place
  const swapped = first.map((one, i) =>
    i === 3 ? { ...one, text: first[9]!.text } : i === 9 ? { ...one, text: first[3]!.text } : one,
  );
  const [odd] = await readFromPaper(t.db, made, [{ name: 'b', codes: swapped }], 'Ines');
  expect(odd!.misplaced.map((one) => one.page)).toEqual([1, 1]);
  const other = await run(id, { name: 'Labels again', which: 'ready', ticked: [] });
  const wrong = await readFromPaper(t.db, other, [{ name: 'x', codes: [at('P-001')] }], 'Ines');
  expect(wrong[0]).toMatchObject({ found: 1 });
});

test('copies are marked as often as a picture shows them', async () => {
  const { id } = await job(
    ['No', 'Name'],
    ['key', 'name'],
    [
      ['C-1', 'Thrift'],
      ['C-2', 'Kale'],
    ],
  );
  const { viewJob, changeJob } = await import('../../src/server/jobs');
  const { version, document } = await viewJob(t.db, id);
  await changeJob(
    t.db,
    id,
    { version, document: { ...document, options: { ...document.options, copies: 3 } } },
    'test',
  );
  const made = await run(id, { name: 'Copies', which: 'ready', ticked: [] });
  await readFromPaper(
    t.db,
    made,
    [{ name: 'a', codes: [at('C-1'), at('C-1'), at('C-2')] }],
    'Ines',
  );
  const lines = await receiptPart(t.db, made, { page: 1 });
  const read = (payload: string) =>
    lines.filter((l) => l.payload === payload && l.paper === 'read').length;
  expect([read('C-1'), read('C-2')]).toEqual([2, 1]);
});
