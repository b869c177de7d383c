/**
 * Makes the demo's documents: the example of a loan agreement, and the list of packets that are
 * lent. Everything in them is invented. The same files each time: `npx tsx demo/make-documents.ts`.
 */
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { degrees, PDFDocument, rgb, StandardFonts } from '@cantoo/pdf-lib';
import { join } from 'node:path';
import { read, utils } from '@e965/xlsx';
import { artItems, symbolArt } from '../src/core/artwork/symbol-art';
import { putOnPdf } from '../src/core/documents/pdf';
import { encodePicture } from '../src/core/drawing/pixels';
import { measure } from '../src/core/look/layout';
import { defaultLook } from '../src/core/look/look';
import { encode } from '../src/core/symbology';
import { anchored, docx, paragraph, run, spaced, table } from './docx';

const folder = import.meta.dirname;
/** Opens the agreement that is locked. */
const lockedWith = 'dune house';
const book = read(readFileSync(join(folder, 'seed-loans.xls')));
const [, ...loans] = utils.sheet_to_json<string[]>(book.Sheets[book.SheetNames[0]!]!, {
  header: 1,
  raw: false,
});

const varieties = [
  'Sea kale ‘Dune White’',
  'Thrift, rose',
  'Sea beet',
  'Horned poppy',
  'Marram',
  'Sea campion',
  'Scurvy grass',
  'Viper’s bugloss',
];
const packets = loans.flatMap(([loan], i) =>
  Array.from({ length: 1 + ((i * 5 + 2) % 4) }, (_, n) => [
    `PK-${118 + i * 7 + n * 3}`,
    loan,
    varieties[(i * 3 + n * 5) % varieties.length],
    String(20 + ((i * 13 + n * 7) % 9) * 10),
  ]),
);
writeFileSync(
  join(folder, 'packets-lent.csv'),
  [['Packet', 'Loan', 'Variety', 'Grains'], ...packets]
    .map((row) => row.map((c) => (c!.includes(',') ? `"${c}"` : c)).join(','))
    .join('\n') + '\n',
);

/** A grey square with a cross, where the code comes. */
function square(): Uint8Array {
  const side = 120;
  const rgba = new Uint8Array(side * side * 4).fill(255);
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      const edge = x < 3 || y < 3 || x >= side - 3 || y >= side - 3;
      const cross = Math.abs(x - y) < 2 || Math.abs(x + y - side) < 2;
      rgba.fill(edge || cross ? 150 : 240, (y * side + x) * 4, (y * side + x) * 4 + 3);
    }
  return encodePicture({ width: side, height: side, rgba });
}

const [loan = '', borrower = '', , count = '', due = ''] = loans[1]!;
const [year = 0, month = 0, day = 0] = due.split('-').map(Number);
const months =
  'January February March April May June July August September October November December'.split(
    ' ',
  );
const written = `${day} ${months[month - 1]} ${year}`;
const own = packets.filter((p) => p[1] === loan);
const half = Math.ceil(borrower.length / 2);
const right = (text: string) => `<w:p><w:pPr><w:jc w:val="right"/></w:pPr>${run(text)}</w:p>`;
const rowOf = (cells: readonly string[], bold = false) =>
  cells.map((text, c) => (c === 2 ? right(text) : paragraph(run(text, { bold }))));

writeFileSync(
  join(folder, 'loan-agreement.docx'),
  docx({
    media: { 'code.png': square() },
    header: paragraph(
      run('Marram Bay Seed Library, agreement ', { size: 17, colour: '666666' }),
      run(loan, { size: 17, colour: '666666' }),
    ),
    footer: paragraph(
      run('Dune House, Marram Bay. Seeds are lent for one season.', { size: 17, colour: '666666' }),
    ),
    body: [
      paragraph(anchored('pic1', 1, 30, 30), run('Seed loan agreement', { bold: true, size: 36 })),
      spaced(280, run('Marram Bay Seed Library', { colour: '666666' })),
      // as it comes out of a program that was typed into: one name in three runs
      paragraph(
        run('Between the library and '),
        run(borrower.slice(0, half), { bold: true }),
        run(borrower.slice(half, half + 2), { bold: true }),
        run(borrower.slice(half + 2), { bold: true }),
        run(', loan '),
        run(loan),
        run(` of ${count} packets, due back by ${written}.`),
      ),
      paragraph(
        run(
          `The packets below are lent to ${borrower} for one season. Please let the strongest plants go to seed, keep them apart from others of their kind, and bring back at least as many grains as you took.`,
        ),
      ),
      table(
        [1900, 5200, 1700],
        [
          rowOf(['Packet', 'Variety', 'Grains'], true),
          ...own.map(([packet, , variety, grains]) => rowOf([packet!, variety!, grains!])),
        ],
      ),
      spaced(140),
      paragraph(
        run(
          'Whoever finds one of these packets can scan the code above: it opens the page of this loan, where the library says what to do with it.',
        ),
      ),
      spaced(700, run('Signed for '), run(borrower.toUpperCase())),
      paragraph(run('______________________________')),
    ].join(''),
  }),
);

// copies that exist as PDFs already: most upright, some turned, one cropped, one with a dark
// corner, one that says nothing of its loan, one that is locked, one that comes back with our code
// on it
mkdirSync(join(folder, 'agreements'), { recursive: true });
const day0 = new Date(Date.UTC(2026, 9, 1));
for (const [i, [no, name, seeds, count, back]] of loans.entries()) {
  const pdf = await PDFDocument.create();
  pdf.setTitle(`Loan agreement ${no}`);
  pdf.setCreationDate(day0);
  pdf.setModificationDate(day0);
  const regular = await pdf.embedFont(StandardFonts.Helvetica);
  const bold = await pdf.embedFont(StandardFonts.HelveticaBold);
  const turned = i === 4 || i === 8;
  const pages = i % 5 === 2 ? 2 : 1;
  for (let n = 0; n < pages; n++) {
    const page = pdf.addPage(turned ? [841.89, 595.28] : [595.28, 841.89]);
    if (turned) page.setRotation(degrees(90));
    const put = (text: string, x: number, y: number, size: number, font = regular) =>
      page.drawText(text, {
        ...(turned ? { x: 841.89 - y, y: x, rotate: degrees(90) } : { x, y }),
        size,
        font,
      });
    put(n === 0 ? 'Seed loan agreement' : 'Seed loan agreement, page 2', 62, 760, 22, bold);
    put(`Marram Bay Seed Library${i === 9 ? '' : `, loan ${no}`}`, 62, 736, 11);
    const lines =
      n === 0
        ? [
            `The library lends ${name} ${count} packets of ${seeds}.`,
            `They are due back by ${back}, with at least as many grains as were taken.`,
            '',
            'The borrower agrees to grow the seeds apart from others of their kind, to keep the',
            'strongest plants for seed, and to bring the seed back dry, clean and numbered.',
            'What is found to carry disease is burnt, and the library is told.',
            '',
            'Signed in Marram Bay, ______________________________',
          ]
        : ['Notes of the library on how these seeds are grown are handed out with them.'];
    lines.forEach((line, k) => put(line, 62, 690 - k * 20, 11.5));
    if (i === 6)
      page.drawRectangle({ x: 440, y: 0, width: 156, height: 150, color: rgb(0.2, 0.25, 0.3) });
    if (i === 3) page.setCropBox(20, 30, 540, 780);
  }
  const file = i === 9 ? 'scan-0231.pdf' : `agreement ${no}.pdf`;
  const path = join(folder, 'agreements', file);
  const bytes = await pdf.save({ updateFieldAppearances: false });
  writeFileSync(path, bytes);
  if (i === 10)
    // the same bytes each time: of what locks it nothing is left to chance, as is right in a demo
    // only
    execFileSync('qpdf', [
      ...[
        '--static-id',
        '--static-aes-iv',
        '--encrypt',
        lockedWith,
        lockedWith,
        '128',
        '--use-aes=y',
        '--',
      ],
      ...['--replace-input', path],
    ]);
  if (i === 2) {
    const look = { ...defaultLook, sizeMm: 18 };
    const art = symbolArt(encode('qr', no!), look);
    const { moduleMm, widthMm, heightMm } = measure(art.symbol, look);
    const code = { page: 0, x: 20, y: 240, widthMm, heightMm, about: `Code of ${no}` };
    const hash = createHash('sha256').update(bytes).digest('hex');
    mkdirSync(join(folder, 'agreements', 'sent-back'), { recursive: true });
    writeFileSync(
      join(folder, 'agreements', 'sent-back', file),
      await putOnPdf(bytes, [{ ...code, items: artItems(art, 0, 0, moduleMm) }], hash),
    );
  }
}
