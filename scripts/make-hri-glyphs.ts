/**
 * Writes the outlines of the typeface for human-readable interpretations into
 * src/core/artwork/hri-glyphs.ts.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import * as fontkit from 'fontkit';

const file =
  'node_modules/@expo-google-fonts/atkinson-hyperlegible-mono/400Regular/AtkinsonHyperlegibleMono_400Regular.ttf';
const font = fontkit.create(readFileSync(file)) as fontkit.Font;
const scale = 1000 / font.unitsPerEm;
const rows: string[] = [];
const codes = [
  ...Array.from({ length: 95 }, (_, i) => 32 + i),
  ...Array.from({ length: 96 }, (_, i) => 160 + i),
];
for (const code of codes) {
  const glyph = font.glyphForCodePoint(code);
  if (glyph.id === 0) continue;
  const numbers: (string | number)[] = [];
  for (const { command, args } of glyph.path.commands) {
    numbers.push(
      { moveTo: 'M', lineTo: 'L', quadraticCurveTo: 'Q', bezierCurveTo: 'C', closePath: 'Z' }[
        command
      ],
    );
    numbers.push(args.map((n) => Math.round(n * scale)).join(' '));
  }
  rows.push(`  [${code}, '${numbers.join('')}'],`);
}
const advance = Math.round(font.glyphForCodePoint(48).advanceWidth * scale);
writeFileSync(
  'src/core/artwork/hri-glyphs.ts',
  `/**
 * Outlines of Atkinson Hyperlegible Mono (SIL Open Font License 1.1) for Latin-1, in thousandths of the size, y upwards, so that
 * the text under a code is the same in every output without a typeface at hand. Written by scripts/make-hri-glyphs.ts.
 */
export const hriAdvance = ${advance};
// prettier-ignore
export const hriGlyphs = new Map<number, string>([
${rows.join('\n')}
]);
`,
);
