import { symbologies } from '../symbology';
import type { BlockMap, CodeSymbol } from '../symbology/types';
import type { Look } from './look';
import type { LookWarning } from './warnings';

/**
 * The modules that a logo covers, and the box it is drawn in, in modules from the symbol's top
 * left.
 */
export interface ClearedArea {
  row: number;
  column: number;
  rows: number;
  columns: number;
  x: number;
  y: number;
  width: number;
  height: number;
}

/**
 * Room for a picture in the middle of a symbol: its longer side is `share` of the width, a quarter
 * of a module clear all round.
 */
export function clearedArea(
  symbol: CodeSymbol,
  share: number,
  picture: { width: number; height: number },
): ClearedArea {
  const longest = symbol.columns * share;
  const scale = longest / Math.max(picture.width, picture.height);
  const [width, height] = [picture.width * scale, picture.height * scale];
  const cells = (size: number, whole: number) => {
    // an area exactly in the middle has as many modules on either side
    let count = Math.ceil(size + 0.5);
    if ((whole - count) % 2 !== 0) count++;
    return count;
  };
  const columns = cells(width, symbol.columns);
  const rows = cells(height, symbol.rows);
  return {
    column: (symbol.columns - columns) / 2,
    row: (symbol.rows - rows) / 2,
    columns,
    rows,
    x: (symbol.columns - width) / 2,
    y: (symbol.rows - height) / 2,
    width,
    height,
  };
}

/** The real layout of codewords of the symbologies for which a logo makes sense. */
export const blockMap = (symbol: CodeSymbol): BlockMap | undefined =>
  symbologies[symbol.symbology].blocks?.(symbol);

export interface Damage {
  /** Codewords lost in the worst block, and how many it can correct. */
  lost: number;
  capacity: number;
  /** Of all modules. */
  share: number;
}

/** The damage of an area, block by block: every codeword with a module in it counts as lost. */
export function damageOf(
  symbol: CodeSymbol,
  area: Pick<ClearedArea, 'row' | 'column' | 'rows' | 'columns'>,
): Damage | undefined {
  const map = blockMap(symbol);
  if (!map) return undefined;
  const lostWords = new Set<number>();
  for (let r = area.row; r < area.row + area.rows; r++)
    for (let c = area.column; c < area.column + area.columns; c++) {
      const word = map.codewordOf[r * symbol.columns + c]!;
      if (word >= 0) lostWords.add(word);
    }
  const perBlock = new Map<number, number>();
  for (const word of lostWords)
    perBlock.set(map.blockOf[word]!, (perBlock.get(map.blockOf[word]!) ?? 0) + 1);
  return {
    lost: Math.max(0, ...perBlock.values()),
    capacity: map.capacity,
    share: (area.rows * area.columns) / (symbol.rows * symbol.columns),
  };
}

/**
 * The largest share, in whole percent, at which a logo leaves half of the error correction for
 * wear; undefined when none does.
 */
function safeShare(
  symbol: CodeSymbol,
  { picture, share }: NonNullable<Look['logo']>,
): number | undefined {
  for (let percent = Math.ceil(share * 100) - 1; percent >= 5; percent--) {
    const damage = damageOf(symbol, clearedArea(symbol, percent / 100, picture));
    if (damage && damage.lost <= damage.capacity / 2) return percent / 100;
  }
  return undefined;
}

/**
 * Warns when a logo takes more than the error correction gives back; half of it should be kept for
 * wear.
 */
export function logoWarnings(symbol: CodeSymbol, look: Look): LookWarning[] {
  const { logo } = look;
  if (!logo) return [];
  const damage = damageOf(symbol, clearedArea(symbol, logo.share, logo.picture));
  if (!damage)
    return [
      {
        kind: 'capacity',
        message:
          'A logo in this code type covers what a scanner looks for first. A QR code works with a logo.',
        mend: 'Remove the logo.',
        fix: { logo: undefined },
      },
    ];
  if (damage.lost <= damage.capacity / 2) return [];
  const share = safeShare(symbol, logo);
  return [
    {
      kind: 'capacity',
      message:
        damage.lost > damage.capacity
          ? `The logo covers ${damage.lost} codewords of one block, which can repair ${damage.capacity}: it will not read. More error correction helps too.`
          : `The logo uses up ${damage.lost} of the ${damage.capacity} codewords that its weakest block can repair. Little is left for wear. More error correction helps too.`,
      ...(share === undefined
        ? { mend: 'Remove the logo.', fix: { logo: undefined } }
        : {
            mend: `Make the logo ${Math.round(share * 100)}% of the width.`,
            fix: { logo: { ...logo, share } },
          }),
    },
  ];
}
