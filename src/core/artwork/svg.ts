import { measure } from '../look/layout';
import { defaultLook, type Look } from '../look/look';
import type { FontBook } from './fonts';
import type { CodeSymbol } from '../symbology';
import { symbolRects, type DrawItem, type Gradient } from '../drawing/drawing';
import { short, shortName } from '../drawing/numbers';
import { pathText } from '../drawing/path';
import { encodePicture } from '../drawing/pixels';
import { toBase64, type Picture } from '../drawing/picture';
import { artItems, symbolArt, type SymbolArt } from './symbol-art';

/** The dark area of a symbol as one compact SVG path, in modules. */
function symbolPath(symbol: CodeSymbol, left = 0, top = 0): string {
  const rects = symbolRects(symbol);
  let path = '';
  for (let i = 0; i < rects.length; i += 4) {
    const width = rects[i + 2];
    path += `M${rects[i]! + left} ${rects[i + 1]! + top}h${width}v${rects[i + 3]}h-${width}z`;
  }
  return path;
}

/** A symbol as a stand-alone SVG document, its size in mm, one path for all dark modules. */
export function renderSvg(symbol: CodeSymbol, look: Partial<Look> = {}): string {
  const full = { ...defaultLook, ...look };
  const art = symbolArt(symbol, full);
  const { widthMm, heightMm } = measure(art.symbol, full);
  const sharp =
    full.modules === undefined || full.modules === 'square' ? ' shape-rendering="crispEdges"' : '';
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${short(widthMm)}mm" height="${short(heightMm)}mm" ` +
    `viewBox="0 0 ${short(art.columns)} ${short(art.rows)}"${sharp}>${titleOf(art)}${artToSvg(art)}</svg>`
  );
}

/** The text of the code, for screen readers and search; undefined if it is hidden. */
function titleOf({ layout }: SymbolArt): string {
  const text = (layout.hri ?? []).map((h) => h.text).join(' ');
  return text && `<title>${text.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`)}</title>`;
}

/** The elements of a code in modules. */
export const artToSvg = (art: SymbolArt): string => drawingToSvgElements(artItems(art, 0, 0, 1));

/** The items of a drawing as SVG elements in mm, text as the outlines that are also printed. */
export function drawingToSvgElements(items: readonly DrawItem[], fonts?: FontBook): string {
  return items.map((item) => itemToSvg(item, fonts)).join('');
}

const shifted = (x: number, y: number, scale: number): string =>
  x === 0 && y === 0 && scale === 1
    ? ''
    : ` transform="translate(${short(x)} ${short(y)})${scale === 1 ? '' : ` scale(${short(scale, 5)})`}"`;

function itemToSvg(item: DrawItem, fonts?: FontBook): string {
  if (item.kind === 'rect')
    return `<rect x="${short(item.x)}" y="${short(item.y)}" width="${short(item.width)}" height="${short(item.height)}" fill="${item.fill}"/>`;
  if (item.kind === 'code') {
    // in modules a shift is whole and can be in the path itself
    const inside = item.moduleMm === 1;
    const path = symbolPath(item.symbol, inside ? item.x : 0, inside ? item.y : 0);
    return `<path shape-rendering="crispEdges"${inside ? '' : shifted(item.x, item.y, item.moduleMm)} fill="${item.fill}" d="${path}"/>`;
  }
  if (item.kind === 'path') {
    const place = shifted(item.x, item.y, item.unitMm);
    const d = pathText(item.path, 'svg', 2);
    if (typeof item.fill === 'string')
      return `<path shape-rendering="geometricPrecision"${place} fill="${item.fill}" d="${d}"/>`;
    const id = `g${shortName(d)}`;
    return `<defs>${gradientSvg(item.fill, id)}</defs><path shape-rendering="geometricPrecision"${place} fill="url(#${id})" d="${d}"/>`;
  }
  if (item.kind === 'image')
    return `<image x="${short(item.x)}" y="${short(item.y)}" width="${short(item.width)}" height="${short(item.height)}" preserveAspectRatio="none" href="data:image/png;base64,${pngOf(item.picture)}"/>`;
  if (item.kind === 'clip') {
    const [x, y, width, height] = [item.x, item.y, item.width, item.height].map((n) => short(n));
    return `<svg x="${x}" y="${y}" width="${width}" height="${height}" viewBox="${x} ${y} ${width} ${height}" overflow="hidden">${drawingToSvgElements(item.items, fonts)}</svg>`;
  }
  if (!fonts) throw new Error('Text needs its typefaces to be drawn.');
  const font = fonts.font(item.font);
  const scale = item.sizeMm / font.unitsPerEm;
  const glyphs = item.glyphs
    .map((glyph) => {
      const d = font.outlineSvg(glyph.id);
      return (
        d &&
        `<path transform="translate(${short(glyph.x / scale, 0)} ${short(glyph.dy / scale, 0)})" d="${d}"/>`
      );
    })
    .join('');
  return `<g transform="translate(${short(item.x)} ${short(item.y)}) scale(${short(scale, 6)} ${short(-scale, 6)})" fill="${item.fill}">${glyphs}</g>`;
}

function gradientSvg({ from, to, direction, box }: Gradient, id: string): string {
  const stops = `<stop stop-color="${from}"/><stop offset="1" stop-color="${to}"/>`;
  const { x, y, width, height } = box;
  const at = (n: number) => short(n, 2);
  if (direction === 'outwards')
    return `<radialGradient id="${id}" gradientUnits="userSpaceOnUse" cx="0" cy="0" r="0.7071" gradientTransform="translate(${at(x + width / 2)} ${at(y + height / 2)}) scale(${at(width)} ${at(height)})">${stops}</radialGradient>`;
  const [x2, y2] = direction === 'across' ? [1, 0] : direction === 'down' ? [0, 1] : [1, 1];
  return `<linearGradient id="${id}" gradientUnits="userSpaceOnUse" x1="0" y1="0" x2="${x2}" y2="${y2}" gradientTransform="translate(${at(x)} ${at(y)}) scale(${at(width)} ${at(height)})">${stops}</linearGradient>`;
}

const pngs = new WeakMap<Picture, string>();
function pngOf(picture: Picture): string {
  let text = pngs.get(picture);
  if (text === undefined) pngs.set(picture, (text = toBase64(encodePicture(picture))));
  return text;
}
