import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Piece, PieceElement } from '../../../src/core/piece/model';
import { stockById } from '../../../src/core/piece/stock';
import { changeJob, viewJob } from '../../../src/server/jobs/jobs';
import { receiptPart } from '../../../src/server/runs/receipt';
import { readAll } from '../../helpers/barcode';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { renderPdf } from '../../helpers/poppler';
import { runsIn } from '../../helpers/runs';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
});
afterAll(() => t.close());
const { job, run, bytesOf } = runsIn(() => t);

/** Things that lie anywhere on a piece, over its edges and over its code too. */
const elementsOn = (width: number, height: number) => {
  const at = {
    x: fc.integer({ min: -20, max: Math.round(width) }),
    y: fc.integer({ min: -10, max: Math.round(height) }),
  };
  const words = fc
    .record({
      ...at,
      sizePt: fc.integer({ min: 6, max: 60 }),
      width: fc.integer({ min: 10, max: 160 }),
    })
    .map((w): PieceElement => ({
      ...w,
      kind: 'text',
      id: 'words',
      parts: [{ kind: 'column', column: 'c2' }],
      font: 'bricolage-bold',
      minPt: w.sizePt,
      lines: 1,
      align: 'left',
      colour: '#000000',
    }));
  const box = fc
    .record({
      ...at,
      width: fc.integer({ min: 2, max: 80 }),
      height: fc.integer({ min: 2, max: 40 }),
    })
    .map((b): PieceElement => ({ ...b, kind: 'box', id: 'box', fill: '#1d1a26' }));
  const code = fc
    .record({
      x: fc.integer({ min: 1, max: Math.round(width - 22) }),
      y: fc.integer({ min: 1, max: Math.round(height - 22) }),
      sizeMm: fc.integer({ min: 15, max: 20 }),
    })
    .map((c): PieceElement => ({ ...c, kind: 'stamp', id: 'code', stamp: 'stamp-1' }));
  return fc
    .tuple(code, words, box, fc.boolean())
    .map(([c, w, b, first]) => (first ? [b, c, w] : [c, w, b]));
};

describe('whatever lies on a piece', () => {
  test('the codes on the printed sheet read as the receipt says: those it calls read are read from the paper, the others are not', async () => {
    const stock = stockById('a4-21');
    const counted = { read: 0, unread: 0 };
    const property = fc.asyncProperty(
      elementsOn(stock.piece.width, stock.piece.height),
      fc.array(fc.string({ minLength: 1, maxLength: 24, unit: fc.constantFrom(...'WMilo -') }), {
        minLength: 4,
        maxLength: 9,
      }),
      fc.boolean(),
      async (elements, names, marks) => {
        const rows = names.map((name, i) => [`K-${i}-${'x'.repeat(i)}`, name]);
        const made = await job(['No', 'Name'], ['key', 'name'], rows);
        const { version, document } = await viewJob(t.db, made.id);
        const piece: Piece = { stock: stock.id, elements };
        await changeJob(
          t.db,
          made.id,
          { version, document: { ...document, piece, options: { ...document.options, marks } } },
          'test',
        );
        const id = await run(made.id, { which: 'with-code' });
        const lines = await receiptPart(t.db, id, { page: 1 });
        const seen = new Set(
          (
            await Promise.all(
              renderPdf(await bytesOf(id, '.pdf'), 300).map((page) =>
                readAll(page, { maxNumberOfSymbols: 255 }),
              ),
            )
          )
            .flat()
            .map((c) => c.text),
        );
        expect(lines).toHaveLength(rows.length);
        for (const line of lines) {
          counted[line.result === 'read' ? 'read' : 'unread']++;
          // a code that is covered may by luck still be read by a reader that looks over the whole
          // page; never the other way round
          if (line.result === 'read')
            expect([line.payload, seen.has(line.payload)]).toEqual([line.payload, true]);
        }
      },
    );
    await fc.assert(property, { numRuns: 10, seed: 20261125 });
    // both ends were met, or this would say nothing
    expect(counted.read).toBeGreaterThan(5);
    expect(counted.unread).toBeGreaterThan(5);
  }, 180_000);
});
