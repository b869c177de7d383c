import { defaultLook, extent, hriOf, measure, withBarHeight, type Look } from '../look/look';
import type { FontBook } from '../piece/fonts';
import type { CodeSymbol, HriText } from '../symbology';
import { symbolRects, type Drawing, type DrawItem } from './drawing';
import { short } from './numbers';

/** The dark area of a symbol as one compact SVG path, in modules. */
export function symbolPath(symbol: CodeSymbol, left = 0, top = 0): string {
  const rects = symbolRects(symbol);
  let path = '';
  for (let i = 0; i < rects.length; i += 4) {
    const width = rects[i + 2];
    path += `M${rects[i] + left} ${rects[i + 1] + top}h${width}v${rects[i + 3]}h-${width}z`;
  }
  return path;
}

/** A symbol as a stand-alone SVG document, its size in mm, one path for all dark modules. */
export function renderSvg(given: CodeSymbol, look: Partial<Look> = {}): string {
  const full = { ...defaultLook, ...look };
  const symbol = withBarHeight(given, full);
  const { columns, rows: bars, left, top } = extent(symbol, full);
  const hri = hriOf(symbol, full);
  const rows = bars + (hri?.extra ?? 0);
  const { widthMm, moduleMm } = measure(symbol, full);
  const heightMm = moduleMm * rows;
  const words = hri ? hriToSvg(hri.texts, left, top + hri.top, full.foreground) : '';
  const ground = full.background === 'transparent' ? '' : `<path fill="${full.background}" d="M0 0h${columns}v${rows}h-${columns}z"/>`;
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${short(widthMm)}mm" height="${short(heightMm)}mm" ` +
    `viewBox="0 0 ${columns} ${rows}" shape-rendering="crispEdges">${ground}` +
    `<path fill="${full.foreground}" d="${symbolPath(symbol, left, top)}"/>${words}</svg>`
  );
}

const escape = (text: string): string => text.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);

/** Human-readable interpretation as SVG text in modules: digits spread over their groups, or one line in the middle. */
export function hriToSvg(texts: readonly HriText[], left: number, top: number, fill: string): string {
  return texts
    .map((hri) => {
      const size = Math.min(9, (hri.width / Math.max(1, hri.text.length)) * 1.6);
      const at = (x: number, text: string) =>
        `<text x="${short(left + x)}" y="${short(top + 8.2)}" text-anchor="middle" font-family="Atkinson Hyperlegible Mono, monospace" font-size="${short(size)}" fill="${fill}">${escape(text)}</text>`;
      if (!hri.spread) return at(hri.x + hri.width / 2, hri.text);
      const cell = hri.width / hri.text.length;
      return Array.from(hri.text, (c, i) => at(hri.x + cell * (i + 0.5), c)).join('');
    })
    .join('');
}

/** The items of a drawing as SVG elements in mm, text as the outlines that are also printed. */
export function drawingToSvgElements(items: readonly DrawItem[], fonts: FontBook): string {
  return items.map((item) => itemToSvg(item, fonts)).join('');
}

function itemToSvg(item: DrawItem, fonts: FontBook): string {
  if (item.kind === 'rect')
    return `<rect x="${short(item.x)}" y="${short(item.y)}" width="${short(item.width)}" height="${short(item.height)}" fill="${item.fill}"/>`;
  if (item.kind === 'code')
    return `<path shape-rendering="crispEdges" transform="translate(${short(item.x)} ${short(item.y)}) scale(${short(item.moduleMm, 5)})" fill="${item.fill}" d="${symbolPath(item.symbol)}"/>`;
  const font = fonts.font(item.font);
  const scale = item.sizeMm / font.unitsPerEm;
  const glyphs = item.glyphs
    .map((glyph) => {
      const d = font.outlineSvg(glyph.id);
      return d && `<path transform="translate(${short(glyph.x / scale, 0)} ${short(glyph.dy / scale, 0)})" d="${d}"/>`;
    })
    .join('');
  return `<g transform="translate(${short(item.x)} ${short(item.y)}) scale(${short(scale, 6)} ${short(-scale, 6)})" fill="${item.fill}">${glyphs}</g>`;
}

/** A whole drawing as a stand-alone SVG document in mm. */
export function drawingToSvg(drawing: Drawing, fonts: FontBook): string {
  const w = short(drawing.widthMm);
  const h = short(drawing.heightMm);
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${w}mm" height="${h}mm" viewBox="0 0 ${w} ${h}">${drawingToSvgElements(drawing.items, fonts)}</svg>`;
}
