import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/**
 * Renders a PDF with Poppler: one grey picture a page, as PGM or PNG.
 * @param only a page to render alone, counted from 1
 */
export function renderPdf(
  pdf: Uint8Array,
  dpi: number,
  kind: 'pgm' | 'png' = 'pgm',
  only?: number,
): Uint8Array[] {
  const folder = mkdtempSync(join(tmpdir(), 'hand-stamp-pdf-'));
  try {
    writeFileSync(join(folder, 'in.pdf'), pdf);
    execFileSync('pdftoppm', [
      '-gray',
      ...(kind === 'png' ? ['-png'] : []),
      '-cropbox',
      ...(only === undefined ? [] : ['-f', String(only), '-l', String(only)]),
      '-r',
      String(dpi),
      join(folder, 'in.pdf'),
      join(folder, 'page'),
    ]);
    return readdirSync(folder)
      .filter((name) => name.endsWith(`.${kind}`))
      .sort()
      .map((name) => readFileSync(join(folder, name)));
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

function poppler(program: string, pdf: Uint8Array, args: string[]): string {
  const folder = mkdtempSync(join(tmpdir(), 'hand-stamp-pdf-'));
  try {
    writeFileSync(join(folder, 'in.pdf'), pdf);
    return execFileSync(program, [...args.map((a) => (a === '@' ? join(folder, 'in.pdf') : a))], {
      encoding: 'utf8',
    });
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

export const pdfText = (pdf: Uint8Array): string => poppler('pdftotext', pdf, ['@', '-']);
export const pdfFonts = (pdf: Uint8Array): string => poppler('pdffonts', pdf, ['@']);
