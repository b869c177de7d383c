import { defaultLook, extent, measure, type Look } from '../look/look';
import type { FontBook } from '../piece/fonts';
import type { CodeSymbol } from '../symbology';
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
export function renderSvg(symbol: CodeSymbol, look: Partial<Look> = {}): string {
  const full = { ...defaultLook, ...look };
  const { columns, rows, left, top } = extent(symbol, full);
  const { widthMm, heightMm } = measure(symbol, full);
  const ground = full.background === 'transparent' ? '' : `<path fill="${full.background}" d="M0 0h${columns}v${rows}h-${columns}z"/>`;
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${short(widthMm)}mm" height="${short(heightMm)}mm" ` +
    `viewBox="0 0 ${columns} ${rows}" shape-rendering="crispEdges">${ground}` +
    `<path fill="${full.foreground}" d="${symbolPath(symbol, left, top)}"/></svg>`
  );
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
