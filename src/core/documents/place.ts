import type { Look } from '../look/look';
import { captionMm } from '../piece/caption';
import type { PdfsGround } from '../piece/ground';
import type { ShownPage } from './pdf';

/** Which pages carry the code, from 0. */
export function pagesWithCode(
  { pages, range }: Pick<PdfsGround, 'pages' | 'range'>,
  count: number,
): number[] {
  const all = Array.from({ length: count }, (_, i) => i);
  if (pages === 'first') return all.slice(0, 1);
  if (pages === 'last') return all.slice(-1);
  if (pages === 'these') {
    const spans = spansOf(range ?? '') ?? [];
    return all.filter((n) => spans.some(([from, to]) => n + 1 >= from && n + 1 <= to));
  }
  return pages === 'not-first' ? all.slice(1) : all;
}

/** The page ranges in a text such as `1, 3-5`; undefined if it has none. */
export function spansOf(range: string): [from: number, to: number][] | undefined {
  const spans: [number, number][] = [];
  for (const part of range.split(/[,;]/)) {
    if (part.trim() === '') continue;
    const [, from, to] = /^\s*(\d{1,6})\s*(?:[-–]\s*(\d{1,6})?\s*)?$/.exec(part) ?? [];
    if (from === undefined) return undefined;
    // “3-” is from there to the end
    const last = to === undefined ? (/[-–]/.test(part) ? Infinity : Number(from)) : Number(to);
    if (Number(from) < 1 || last < Number(from)) return undefined;
    spans.push([Number(from), last]);
  }
  return spans.length > 0 ? spans : undefined;
}

/** The start of a side: at a distance from the near end or the far one, or in the middle. */
const along = (from: string, distance: number, whole: number, side: number): number =>
  from === 'middle'
    ? (whole - side) / 2
    : from === 'left' || from === 'top'
      ? distance
      : whole - distance - side;

/** Top left of a code of a size on a page, from the corner or edge that was chosen, in mm. */
export function cornerPlace(
  { corner, acrossMm, downMm }: Pick<PdfsGround, 'corner' | 'acrossMm' | 'downMm'>,
  page: Pick<ShownPage, 'widthMm' | 'heightMm'>,
  code: { widthMm: number; heightMm: number },
): { x: number; y: number } {
  return {
    x: along(corner.split(' ')[1]!, acrossMm, page.widthMm, code.widthMm),
    y: along(corner.split(' ')[0]!, downMm, page.heightMm, code.heightMm),
  };
}

/** The area of a code on a page with its caption, in mm. */
export const withCaption = (
  { caption }: Pick<PdfsGround, 'caption'>,
  { widthMm, heightMm }: { widthMm: number; heightMm: number },
): { widthMm: number; heightMm: number } => ({
  widthMm,
  heightMm: heightMm + (caption && caption.length > 0 ? captionMm : 0),
});

/** The look of a code on the pages, with the chosen size and turn. */
export const lookOnPages = (
  { sizeMm, turn, ground }: Pick<PdfsGround, 'sizeMm' | 'turn' | 'ground'>,
  look: Look,
): Look => {
  const all = [0, 90, 180, 270].indexOf(((look.turn ?? 0) + (turn ?? 0)) % 360);
  return {
    ...look,
    ...(ground ? { background: ground === 'white' ? '#ffffff' : ('transparent' as const) } : {}),
    sizeMm,
    moduleDots: undefined,
    turn: ([undefined, 90, 180, 270] as const)[all],
  };
};
