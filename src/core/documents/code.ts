import { strToU8 } from 'fflate';
import { rasteriseColour } from '../artwork/raster';
import { drawingToSvgElements } from '../artwork/svg';
import { artItems, symbolArt, type SymbolArt } from '../artwork/symbol-art';
import type { DrawItem } from '../drawing/drawing';
import { short } from '../drawing/numbers';
import { encodePicture } from '../drawing/pixels';
import { measure } from '../look/layout';
import { mmPerInch } from '../look/look';
import type { Stamp } from '../payload/stamp';
import type { DocumentCode } from '../piece/ground';
import type { CodeSymbol } from '../symbology';

export interface PlacedInDocument {
  art: SymbolArt;
  moduleMm: number;
  /** Of the code with its quiet zone, from the top left of its place, in mm. */
  x: number;
  y: number;
  dpi: number;
}

/** Most pixels of one code in a document. */
const mostPixels = 4e6;

/** Lays a code into its place in a document: as large as whole dots allow, in the middle. */
export function placedInDocument(
  symbol: CodeSymbol,
  stamp: Stamp,
  { widthMm, heightMm }: Pick<DocumentCode, 'widthMm' | 'heightMm'>,
): PlacedInDocument {
  const most = Math.sqrt(mostPixels / (widthMm * heightMm)) * mmPerInch;
  const dpi = Math.min(stamp.look.dpi, Math.floor(most));
  const look = { ...stamp.look, dpi, sizeMm: widthMm, moduleDots: undefined };
  let art = symbolArt(symbol, look);
  let size = measure(art.symbol, look);
  if (size.heightMm > heightMm || size.widthMm > widthMm) {
    const smaller = {
      ...look,
      sizeMm: widthMm * Math.min(heightMm / size.heightMm, widthMm / size.widthMm),
    };
    art = symbolArt(symbol, smaller);
    size = measure(art.symbol, smaller);
  }
  const onDot = (mm: number) => (Math.round((mm * dpi) / mmPerInch) * mmPerInch) / dpi;
  return {
    art,
    moduleMm: size.moduleMm,
    x: onDot(Math.max(0, (widthMm - size.widthMm) / 2)),
    y: onDot(Math.max(0, (heightMm - size.heightMm) / 2)),
    dpi,
  };
}

/**
 * The picture of a code for its place in a document: pixels in whole dots a module, and the same as
 * outlines.
 */
export function codePicture(
  symbol: CodeSymbol,
  stamp: Stamp,
  place: Pick<DocumentCode, 'widthMm' | 'heightMm'>,
): { png: Uint8Array; svg: Uint8Array } {
  const { widthMm, heightMm } = place;
  const { art, moduleMm, x, y, dpi } = placedInDocument(symbol, stamp, place);
  const ground = stamp.look.background;
  const items: DrawItem[] = [
    ...(ground === 'transparent'
      ? []
      : [{ kind: 'rect' as const, x: 0, y: 0, width: widthMm, height: heightMm, fill: ground }]),
    ...artItems(art, x, y, moduleMm),
  ];
  const png = encodePicture(
    rasteriseColour(items, { x: 0, y: 0, width: widthMm, height: heightMm }, dpi),
  );
  const [w, h] = [short(widthMm), short(heightMm)];
  const svg = strToU8(
    `<svg xmlns="http://www.w3.org/2000/svg" width="${w}mm" height="${h}mm" viewBox="0 0 ${w} ${h}">${drawingToSvgElements(items)}</svg>`,
  );
  return { png, svg };
}
