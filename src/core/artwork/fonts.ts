import * as fontkit from 'fontkit';
import { fallbacksFor, sliceOf, type HanForms } from './font-catalogue';

export interface ShapedGlyph {
  id: number;
  /** In font units. */
  advance: number;
  dx: number;
  dy: number;
  text: string;
}

interface OutlineCommand {
  command: 'moveTo' | 'lineTo' | 'quadraticCurveTo' | 'bezierCurveTo' | 'closePath';
  args: number[];
}

/**
 * Straight edges x0, y0, x1, y1 in font units, y upwards, four numbers each, and the box round
 * them.
 */
export interface GlyphEdges {
  edges: Float64Array;
  minX: number;
  minY: number;
  maxX: number;
  maxY: number;
}

function flatten(commands: readonly OutlineCommand[]): GlyphEdges {
  const edges: number[] = [];
  let [x, y, startX, startY] = [0, 0, 0, 0];
  const line = (toX: number, toY: number) => {
    edges.push(x, y, toX, toY);
    [x, y] = [toX, toY];
  };
  for (const { command, args: a } of commands) {
    if (command === 'moveTo') [startX, startY] = [x, y] = [a[0]!, a[1]!];
    else if (command === 'lineTo') line(a[0]!, a[1]!);
    else if (command === 'closePath') line(startX, startY);
    else {
      const [x0, y0] = [x, y];
      for (let i = 1; i <= 8; i++) {
        const t = i / 8;
        const u = 1 - t;
        if (command === 'quadraticCurveTo')
          line(
            u * u * x0 + 2 * u * t * a[0]! + t * t * a[2]!,
            u * u * y0 + 2 * u * t * a[1]! + t * t * a[3]!,
          );
        else
          line(
            u ** 3 * x0 + 3 * u * u * t * a[0]! + 3 * u * t * t * a[2]! + t ** 3 * a[4]!,
            u ** 3 * y0 + 3 * u * u * t * a[1]! + 3 * u * t * t * a[3]! + t ** 3 * a[5]!,
          );
      }
    }
  }
  const box = { minX: Infinity, minY: Infinity, maxX: -Infinity, maxY: -Infinity };
  for (let i = 0; i < edges.length; i += 2) {
    box.minX = Math.min(box.minX, edges[i]!);
    box.maxX = Math.max(box.maxX, edges[i]!);
    box.minY = Math.min(box.minY, edges[i + 1]!);
    box.maxY = Math.max(box.maxY, edges[i + 1]!);
  }
  return { edges: Float64Array.from(edges), ...box };
}

/** Markers for a pair that was not checked yet, and for one with more than kerning. */
const unknown = -0x8000;
const more = 0x7fff;

/** A loaded typeface. Lengths in font units unless said otherwise. */
export class Typeface {
  readonly unitsPerEm: number;
  readonly ascent: number;
  readonly descent: number;
  private readonly shaped = new Map<string, ShapedGlyph[]>();
  private readonly singles = new Map<number, ShapedGlyph | undefined>();
  /** By how much each pair of printable ASCII is kerned; see `kernOf`. */
  private pairs: Int16Array | undefined;
  private readonly edges = new Map<number, GlyphEdges>();
  private readonly paths = new Map<number, OutlineCommand[]>();
  private readonly svgPaths = new Map<number, string>();

  /**
   * @param source for outlines, widths and subsets
   * @param shaper a second instance of the same file, for shaping only: the library remembers each
   *   glyph with the text of its first use, and a glyph first used in an outline or a subset would
   *   have none
   */
  constructor(
    readonly key: string,
    readonly source: fontkit.Font,
    private readonly shaper: fontkit.Font,
  ) {
    this.unitsPerEm = source.unitsPerEm;
    this.ascent = source.ascent;
    this.descent = source.descent;
  }

  /** Whether it has every visible character of ASCII. */
  get coversPlain(): boolean {
    return (this.allPlain ??= Array.from({ length: 94 }, (_, i) => i + 0x21).every((code) =>
      this.covers(code),
    ));
  }
  private allPlain: boolean | undefined;

  covers(codePoint: number): boolean {
    return this.source.hasGlyphForCodePoint(codePoint);
  }

  /** Shapes a run of one direction: glyphs in visual order, ligatures and marks applied. */
  shape(text: string, direction: 'ltr' | 'rtl' = 'ltr'): readonly ShapedGlyph[] {
    const key = direction + text;
    const known = this.shaped.get(key);
    if (known) return known;
    const glyphs = this.shapeByPairs(text) ?? this.shapeFully(text, direction);
    if (this.shaped.size > 5000) this.shaped.clear();
    this.shaped.set(key, glyphs);
    return glyphs;
  }

  /**
   * Printable ASCII, put together from pairs that were shaped once: many times quicker than the
   * full shaper. Undefined when any pair does more than kern (a ligature, say), which then goes to
   * the full shaper.
   */
  private shapeByPairs(text: string): ShapedGlyph[] | undefined {
    if (!/^[\x20-\x7e]+$/.test(text)) return undefined;
    const glyphs: ShapedGlyph[] = [];
    for (let i = 0; i < text.length; i++) {
      const one = this.single(text.charCodeAt(i));
      const kern =
        i + 1 < text.length ? this.kernOf(text.charCodeAt(i), text.charCodeAt(i + 1)) : 0;
      if (!one || kern === more) return undefined;
      glyphs.push(kern === 0 ? one : { ...one, advance: one.advance + kern });
    }
    return glyphs;
  }

  /**
   * Width of a line of printable ASCII at size 1, without allocations; undefined if only the full
   * shaper knows.
   */
  plainWidth(text: string): number | undefined {
    let width = 0;
    for (let i = 0; i < text.length; i++) {
      const code = text.charCodeAt(i);
      if (code < 0x20 || code > 0x7e) return undefined;
      const next = i + 1 < text.length ? text.charCodeAt(i + 1) : 0;
      if (next > 0x7e || (next < 0x20 && next > 0)) return undefined;
      const one = this.single(code);
      const kern = next > 0 ? this.kernOf(code, next) : 0;
      if (!one || kern === more) return undefined;
      width += (one.advance + kern) / this.unitsPerEm;
    }
    return width;
  }

  private single(code: number): ShapedGlyph | undefined {
    if (!this.singles.has(code)) {
      const glyphs = this.shapeFully(String.fromCharCode(code), 'ltr');
      this.singles.set(code, glyphs.length === 1 ? glyphs[0] : undefined);
    }
    return this.singles.get(code);
  }

  /** The kerning between a pair, in font units; `more` if more than kerning happens. */
  private kernOf(a: number, b: number): number {
    // slices of a typeface are many, and most are never asked
    const pairs = (this.pairs ??= new Int16Array(128 * 128).fill(unknown));
    const at = (a << 7) | b;
    if (pairs[at] === unknown) pairs[at] = this.pairKern(a, b);
    return pairs[at]!;
  }

  private pairKern(a: number, b: number): number {
    const [first, second] = [this.single(a), this.single(b)];
    const both = this.shapeFully(String.fromCharCode(a, b), 'ltr');
    const plain =
      first &&
      second &&
      both.length === 2 &&
      both[0]!.id === first.id &&
      both[1]!.id === second.id &&
      both[1]!.advance === second.advance &&
      both.every((g) => g.dx === 0 && g.dy === 0);
    const kern = plain ? both[0]!.advance - first.advance : more;
    return Number.isInteger(kern) && Math.abs(kern) < more ? kern : more;
  }

  /** The full shaper, with nothing remembered. */
  shapeFully(text: string, direction: 'ltr' | 'rtl'): ShapedGlyph[] {
    const run = this.shaper.layout(text, undefined, undefined, undefined, direction);
    return run.glyphs.map((glyph, i) => ({
      id: glyph.id,
      advance: run.positions[i]!.xAdvance,
      dx: run.positions[i]!.xOffset,
      dy: run.positions[i]!.yOffset,
      text: String.fromCodePoint(...glyph.codePoints),
    }));
  }

  /** Outline of a glyph, y upwards. */
  outline(id: number): readonly OutlineCommand[] {
    let commands = this.paths.get(id);
    if (!commands)
      this.paths.set(
        id,
        (commands = (this.source.getGlyph(id).path as unknown as { commands: OutlineCommand[] })
          .commands),
      );
    return commands;
  }

  /** The outline as straight edges, curves cut into eight; for filling dots. */
  flatOutline(id: number): GlyphEdges {
    let edges = this.edges.get(id);
    if (!edges) this.edges.set(id, (edges = flatten(this.outline(id))));
    return edges;
  }

  outlineSvg(id: number): string {
    let d = this.svgPaths.get(id);
    if (d === undefined) {
      const letters = {
        moveTo: 'M',
        lineTo: 'L',
        quadraticCurveTo: 'Q',
        bezierCurveTo: 'C',
        closePath: 'Z',
      };
      d = this.outline(id)
        .map(({ command, args }) => letters[command] + args.map((a) => Math.round(a)).join(' '))
        .join('');
      this.svgPaths.set(id, d);
    }
    return d;
  }
}

/** The available typefaces. Their creator decides where the files come from. */
export class FontBook {
  private readonly faces = new Map<string, Typeface>();

  /** @param slice if the bytes are only a part of the typeface; see `slicesOf` */
  add(key: string, bytes: Uint8Array, slice?: number): void {
    const name = slice === undefined ? key : `${key}/${slice}`;
    this.faces.set(
      name,
      new Typeface(
        name,
        fontkit.create(bytes as Buffer) as fontkit.Font,
        fontkit.create(bytes as Buffer) as fontkit.Font,
      ),
    );
  }

  has(key: string, slice?: number): boolean {
    return this.faces.has(slice === undefined ? key : `${key}/${slice}`);
  }

  /** @throws Error when the font was not loaded, which is a fault of the caller */
  font(key: string): Typeface {
    const face = this.faces.get(key);
    if (!face) throw new Error(`font ${key} is not loaded`);
    return face;
  }

  /** The first of the chosen typeface and the fallbacks that has the character. */
  covering(character: string, chosen: string, han: HanForms = 'noto-jp'): Typeface | undefined {
    const codePoint = character.codePointAt(0)!;
    const first = this.font(chosen);
    if (first.covers(codePoint)) return first;
    for (const entry of fallbacksFor(chosen, han)) {
      const face =
        this.faces.get(entry.key) ?? this.faces.get(`${entry.key}/${sliceOf(codePoint)}`);
      if (face && entry.scripts!.test(character) && face.covers(codePoint)) return face;
    }
    return undefined;
  }
}
