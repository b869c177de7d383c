import { parseColour } from '../look/colour';
import { measure } from '../look/layout';
import { defaultLook, type Look } from '../look/look';
import type { CodeSymbol } from '../symbology';
import { symbolRects } from '../drawing/drawing';
import { gradientBands } from './gradient';
import { short } from '../drawing/numbers';
import { pathText } from '../drawing/path';
import { pointsPerMm } from './pdf';
import { artItems, symbolArt } from './symbol-art';

const colour = (hex: string): string => {
  const { r, g, b } = parseColour(hex) ?? { r: 0, g: 0, b: 0 };
  return r === g && g === b
    ? `${short(r / 255)} setgray`
    : `${short(r / 255)} ${short(g / 255)} ${short(b / 255)} setrgbcolor`;
};

/** A symbol as Encapsulated PostScript (level 2), for printers' and layout programs. */
export function renderEps(symbol: CodeSymbol, look: Partial<Look> = {}): Uint8Array {
  const full = { ...defaultLook, ...look };
  const art = symbolArt(symbol, full);
  const { widthMm, heightMm, moduleMm } = measure(art.symbol, full);
  const [width, height] = [widthMm * pointsPerMm, heightMm * pointsPerMm];
  const out = [
    '%!PS-Adobe-3.0 EPSF-3.0',
    `%%BoundingBox: 0 0 ${Math.ceil(width)} ${Math.ceil(height)}`,
    `%%HiResBoundingBox: 0 0 ${short(width, 4)} ${short(height, 4)}`,
    '%%Creator: Hand Stamp',
    '%%LanguageLevel: 2',
    '%%EndComments',
    'save /m{moveto}bind def /l{lineto}bind def /c{curveto}bind def /h{closepath}bind def /r{rectfill}bind def',
    `0 ${short(height, 4)} translate ${short(moduleMm * pointsPerMm, 6)} dup neg scale`,
  ];
  for (const item of artItems(art, 0, 0, 1)) {
    if (item.kind === 'rect')
      out.push(
        `${colour(item.fill)} ${short(item.x)} ${short(item.y)} ${short(item.width)} ${short(item.height)} r`,
      );
    else if (item.kind === 'code') {
      const rects = symbolRects(item.symbol);
      out.push(colour(item.fill));
      for (let i = 0; i < rects.length; i += 4)
        out.push(
          `${rects[i]! + item.x} ${rects[i + 1]! + item.y} ${rects[i + 2]} ${rects[i + 3]} r`,
        );
    } else if (item.kind === 'path' && typeof item.fill === 'string')
      out.push(`${colour(item.fill)} newpath\n${pathText(item.path, 'postfix')}fill`);
    else if (item.kind === 'path') {
      out.push(`gsave newpath\n${pathText(item.path, 'postfix')}clip`);
      for (const band of gradientBands(item.fill as Exclude<typeof item.fill, string>))
        out.push(`${colour(band.colour)} newpath\n${pathText(band.path, 'postfix')}fill`);
      out.push('grestore');
    } else if (item.kind === 'image') {
      const { width: w, height: h, rgba } = item.picture;
      out.push(
        `gsave ${short(item.x)} ${short(item.y)} translate ${short(item.width)} ${short(item.height)} scale`,
      );
      out.push(
        `/s ${w * 3} string def ${w} ${h} 8 [${w} 0 0 ${h} 0 0] {currentfile s readhexstring pop} false 3 colorimage`,
      );
      for (let y = 0; y < h; y++) out.push(...hexLines(rgba.subarray(y * w * 4, (y + 1) * w * 4)));
      out.push('grestore');
    }
  }
  out.push('restore', 'showpage', '%%EOF', '');
  return new TextEncoder().encode(out.join('\n'));
}

/** One row of pixels on white, as PostScript has no half opacity, in lines of hexadecimal. */
function hexLines(row: Uint8Array): string[] {
  let hex = '';
  for (let i = 0; i < row.length; i += 4)
    for (let k = 0; k < 3; k++)
      hex += Math.round((row[i + k]! * row[i + 3]! + 255 * (255 - row[i + 3]!)) / 255)
        .toString(16)
        .padStart(2, '0');
  return hex.match(/.{1,200}/g) ?? [];
}
