import type { Look } from '../look/look';
import { layoutOf, withBarHeight, type SymbolLayout } from '../look/layout';
import { clearedArea } from '../look/capacity';
import { shapedPath, takesShapes } from '../look/shapes';
import { EncodeError, type CodeSymbol } from '../symbology/types';
import { addLine, lineWidth } from './hri';
import { mapPath, roundedPath, type Path } from '../drawing/path';
import { pictureOf, turnedPicture } from '../drawing/pixels';
import type { Picture } from '../drawing/picture';
import type { DrawItem, Gradient } from '../drawing/drawing';

/**
 * A finished code in modules: ground, picture, modules, logo, text, frame, turned as the look wants
 * it.
 */
export interface SymbolArt {
  /** Width and height in modules with quiet zone, text and frame, after turning. */
  columns: number;
  rows: number;
  layout: SymbolLayout;
  symbol: CodeSymbol;
  parts: ArtPart[];
}

type ArtPart =
  | { kind: 'rect'; x: number; y: number; width: number; height: number; fill: string }
  | { kind: 'code'; x: number; y: number; fill: string }
  | { kind: 'path'; path: Path; fill: string | Gradient }
  | { kind: 'image'; picture: Picture; x: number; y: number; width: number; height: number };

const white = '#ffffff';

/** Draws a symbol as its look wants it. */
export function symbolArt(given: CodeSymbol, look: Look): SymbolArt {
  const symbol = withBarHeight(given, look);
  const layout = layoutOf(symbol, look);
  const { columns, rows } = layout;
  const parts: ArtPart[] = [];
  const ground = look.background === 'transparent' ? undefined : look.background;
  if (ground) parts.push({ kind: 'rect', x: 0, y: 0, width: columns, height: rows, fill: ground });
  if (look.behind)
    parts.push({
      kind: 'image',
      picture: faded(pictureOf(look.behind.picture), look.behind.strength),
      ...layout.code,
    });
  const fill: string | Gradient = look.gradient
    ? {
        from: look.foreground,
        to: look.gradient.to,
        direction: look.gradient.direction,
        box: { x: layout.x, y: layout.y, width: symbol.columns, height: layout.barsHeight },
      }
    : look.foreground;
  const logo = look.logo && clearedArea(symbol, look.logo.share, pictureOf(look.logo.picture));
  const reduce = (look.reduceMm ?? 0) / layout.moduleMm;
  const plain =
    typeof fill === 'string' &&
    reduce === 0 &&
    !logo &&
    !symbol.hexagons &&
    (look.modules ?? 'square') === 'square' &&
    (look.finders ?? 'square') === 'square';
  if (
    plain ||
    (typeof fill === 'string' && !takesShapes(symbol) && reduce === 0 && !symbol.hexagons)
  )
    parts.push({ kind: 'code', x: layout.x, y: layout.y, fill: look.foreground });
  else {
    const cleared =
      logo && look.logo!.clear
        ? (r: number, c: number) =>
            r >= logo.row &&
            r < logo.row + logo.rows &&
            c >= logo.column &&
            c < logo.column + logo.columns
        : undefined;
    const path = shapedPath(symbol, {
      modules: look.modules ?? 'square',
      finders: look.finders ?? 'square',
      reduce,
      cleared,
    });
    parts.push({ kind: 'path', path: mapPath(path, (x, y) => [x + layout.x, y + layout.y]), fill });
  }
  if (logo)
    parts.push({
      kind: 'image',
      picture: pictureOf(look.logo!.picture),
      x: layout.x + logo.x,
      y: layout.y + logo.y,
      width: logo.width,
      height: logo.height,
    });
  if (layout.hri) parts.push({ kind: 'path', path: hriPath(layout), fill: look.foreground });
  if (look.frame) drawFrame(look, layout, ground ?? white, parts);
  const art: SymbolArt = { columns, rows, layout, symbol, parts };
  return look.turn ? turned(art, look.turn) : art;
}

/**
 * Lightens a picture behind a code towards white, so that the modules keep their contrast. The same
 * picture each time.
 */
function faded(picture: Picture, strength: number): Picture {
  return remembered(lightened, picture, strength, () => lighten(picture, strength));
}

type Variants = WeakMap<Picture, Map<number, Picture>>;
const lightened: Variants = new WeakMap();
const quarterTurned: Variants = new WeakMap();

function remembered(
  variants: Variants,
  picture: Picture,
  key: number,
  make: () => Picture,
): Picture {
  let own = variants.get(picture);
  if (!own) variants.set(picture, (own = new Map()));
  let made = own.get(key);
  if (!made) own.set(key, (made = make()));
  return made;
}

function lighten(picture: Picture, strength: number): Picture {
  const rgba = picture.rgba.map((value, i) =>
    i % 4 === 3 ? value : Math.round(255 - (255 - value) * strength),
  );
  return { ...picture, rgba };
}

function hriPath({ x, hri, hriTop, hriBaseline }: SymbolLayout): number[] {
  const out: number[] = [];
  for (const text of hri!) {
    const baseline = text.top === undefined ? hriTop + hriBaseline : text.top + hriBaseline;
    const size = Math.min(9, text.width / lineWidth(text.text || ' '));
    if (!text.spread) {
      addLine(out, text.text, x + text.x + text.width / 2, baseline, Math.min(9, size));
      continue;
    }
    const cell = text.width / text.text.length;
    Array.from(text.text).forEach((character, i) =>
      addLine(out, character, x + text.x + cell * (i + 0.5), baseline, Math.min(9, cell * 1.5)),
    );
  }
  return out;
}

function drawFrame(
  look: Look,
  { columns, rows, frame }: SymbolLayout,
  ground: string,
  parts: ArtPart[],
): void {
  const { line, band, bandTop, corner } = frame!;
  const outer: [number, number, number, number] = [corner, corner, corner, corner];
  const inner = outer.map((r) => Math.max(0, r - line)) as typeof outer;
  const top = band > 0 && bandTop ? band : line;
  const bottom = band > 0 && !bandTop ? band : line;
  parts.push({
    kind: 'path',
    path: [
      ...roundedPath(0, 0, columns, rows, outer),
      ...roundedPath(line, top, columns - 2 * line, rows - top - bottom, inner, true),
    ],
    fill: look.foreground,
  });
  const caption = look.frame!.caption;
  if (!caption || band === 0) return;
  const size = Math.min(band * 0.62, (columns - 4 * line) / lineWidth(caption));
  const path: number[] = [];
  addLine(path, caption, columns / 2, (bandTop ? band / 2 : rows - band / 2) + size * 0.33, size);
  parts.push({ kind: 'path', path, fill: ground });
}

/** The whole turned clockwise by quarters. */
function turned(art: SymbolArt, degrees: 90 | 180 | 270): SymbolArt {
  let { columns, rows, parts } = art;
  for (let k = 0; k < degrees / 90; k++) {
    const height = rows;
    const turn = (x: number, y: number) => [height - y, x] as const;
    parts = parts.map((part): ArtPart => {
      if (part.kind === 'path') {
        const fill = typeof part.fill === 'string' ? part.fill : turnedGradient(part.fill, height);
        return { ...part, path: mapPath(part.path, turn), fill };
      }
      if (part.kind === 'code') {
        const path = shapedPath(art.symbol, { modules: 'square', finders: 'square', reduce: 0 });
        return {
          kind: 'path',
          path: mapPath(path, (x, y) => turn(x + part.x, y + part.y)),
          fill: part.fill,
        };
      }
      const box = {
        x: height - part.y - part.height,
        y: part.x,
        width: part.height,
        height: part.width,
      };
      return part.kind === 'image'
        ? {
            ...part,
            ...box,
            picture: remembered(quarterTurned, part.picture, 1, () =>
              turnedPicture(part.picture, 1),
            ),
          }
        : { ...part, ...box };
    });
    [columns, rows] = [rows, columns];
  }
  return { ...art, columns, rows, parts };
}

function turnedGradient(gradient: Gradient, height: number): Gradient {
  const { x, y, width, height: h } = gradient.box;
  const box = { x: height - y - h, y: x, width: h, height: width };
  if (gradient.direction === 'across') return { ...gradient, direction: 'down', box };
  // downwards becomes leftwards, which is across with the colours swapped
  if (gradient.direction === 'down')
    return { ...gradient, direction: 'across', from: gradient.to, to: gradient.from, box };
  return { ...gradient, box };
}

/**
 * The art at a size of so many pixels, each module a whole number of them, and the rest as margin:
 * a picture of the wanted width, with sharp edges.
 * @param pixels width of the picture
 * @throws EncodeError if a module would have no pixel
 */
export function onPixels(art: SymbolArt, pixels: number): { art: SymbolArt; scale: number } {
  const scale = Math.floor(pixels / art.columns + 1e-9);
  if (scale < 1)
    throw new EncodeError(
      'option',
      `${pixels} pixels are too few: this code is ${Math.ceil(art.columns)} squares wide, and each needs one pixel.`,
      { mend: `Make the picture at least ${Math.ceil(art.columns)} pixels wide.` },
    );
  const high = Math.max(
    Math.ceil(art.rows * scale - 1e-9),
    Math.round((pixels * art.rows) / art.columns),
  );
  const [columns, rows] = [pixels / scale, high / scale];
  const dx = Math.floor((pixels - art.columns * scale) / 2 + 1e-9) / scale;
  const dy = Math.floor((high - art.rows * scale) / 2 + 1e-9) / scale;
  const parts = art.parts.map((part, i): ArtPart => {
    if (part.kind === 'path') {
      const path = mapPath(part.path, (x, y) => [x + dx, y + dy]);
      const { fill } = part;
      if (typeof fill === 'string') return { ...part, path };
      const box = { ...fill.box, x: fill.box.x + dx, y: fill.box.y + dy };
      return { ...part, path, fill: { ...fill, box } };
    }
    // the ground, and a picture that is the ground, reach to the edges
    const whole = part.kind !== 'code' && part.width === art.columns && part.height === art.rows;
    return i <= 1 && whole
      ? { ...part, x: 0, y: 0, width: columns, height: rows }
      : { ...part, x: part.x + dx, y: part.y + dy };
  });
  return { art: { ...art, columns, rows, parts }, scale };
}

/** The art as items of a drawing, its top left at `x`, `y` mm. */
export function artItems(
  { parts, symbol }: SymbolArt,
  x: number,
  y: number,
  moduleMm: number,
): DrawItem[] {
  return parts.map((part): DrawItem => {
    if (part.kind === 'path')
      return { kind: 'path', path: part.path, x, y, unitMm: moduleMm, fill: part.fill };
    const at = { x: x + part.x * moduleMm, y: y + part.y * moduleMm };
    if (part.kind === 'code') return { kind: 'code', symbol, ...at, moduleMm, fill: part.fill };
    const size = { width: part.width * moduleMm, height: part.height * moduleMm };
    return part.kind === 'rect'
      ? { kind: 'rect', ...at, ...size, fill: part.fill }
      : { kind: 'image', ...at, ...size, picture: part.picture };
  });
}
