import { zlibSync } from 'fflate';
import { measure } from '../look/layout';
import { defaultLook, type Look } from '../look/look';
import { FontBook } from './fonts';
import type { CodeSymbol } from '../symbology';
import { assemblePdf, inOrder, pageContent, type PictureUse } from './pdf';
import { artItems, symbolArt } from './symbol-art';

/** One symbol as a PDF of one page, exactly as large as the code. */
export async function renderPdf(
  symbol: CodeSymbol,
  look: Partial<Look> = {},
  title = 'Code',
  date = new Date(0),
): Promise<Uint8Array> {
  const full = { ...defaultLook, ...look };
  const art = symbolArt(symbol, full);
  const { widthMm, heightMm, moduleMm } = measure(art.symbol, full);
  const fonts = new FontBook();
  const pictures: PictureUse = new Map();
  const content = pageContent(
    { widthMm, heightMm, items: artItems(art, 0, 0, moduleMm) },
    fonts,
    new Map(),
    pictures,
  );
  const parts: Uint8Array[] = [];
  for await (const part of assemblePdf(
    [zlibSync(content)],
    new Map(),
    fonts,
    { title, pageWidthMm: widthMm, pageHeightMm: heightMm, date },
    (b) => zlibSync(b),
    inOrder(pictures),
  ))
    parts.push(part.slice());
  const out = new Uint8Array(parts.reduce((sum, p) => sum + p.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}
