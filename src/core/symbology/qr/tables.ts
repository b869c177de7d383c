/**
 * Tables of ISO/IEC 18004 for QR Code versions 1 to 40. Proven by module-by-module comparison of
 * every version and level with an independent writer (tests/core/symbology/qr.test.ts).
 */

export const qrLevels = ['L', 'M', 'Q', 'H'] as const;
export type QrLevel = (typeof qrLevels)[number];

/** The two bits of each level in the format information. */
export const levelBits: Record<QrLevel, number> = { L: 1, M: 0, Q: 3, H: 2 };

// prettier-ignore
const checkWordsPerBlock: Record<QrLevel, readonly number[]> = {
  L: [7,10,15,20,26,18,20,24,30,18,20,24,26,30,22,24,28,30,28,28,28,28,30,30,26,28,30,30,30,30,30,30,30,30,30,30,30,30,30,30],
  M: [10,16,26,18,24,16,18,22,22,26,30,22,22,24,24,28,28,26,26,26,26,28,28,28,28,28,28,28,28,28,28,28,28,28,28,28,28,28,28,28],
  Q: [13,22,18,26,18,24,18,22,20,24,28,26,24,20,30,24,28,28,26,30,28,30,30,30,30,28,30,30,30,30,30,30,30,30,30,30,30,30,30,30],
  H: [17,28,22,16,22,28,26,26,24,28,24,28,22,24,24,30,28,28,26,28,30,24,30,30,30,30,30,30,30,30,30,30,30,30,30,30,30,30,30,30],
};
// prettier-ignore
const blockCounts: Record<QrLevel, readonly number[]> = {
  L: [1,1,1,1,1,2,2,2,2,4,4,4,4,4,6,6,6,6,7,8,8,9,9,10,12,12,12,13,14,15,16,17,18,19,19,20,21,22,24,25],
  M: [1,1,1,2,2,4,4,4,5,5,5,8,9,9,10,10,11,13,14,16,17,17,18,20,21,23,25,26,28,29,31,33,35,37,38,40,43,45,47,49],
  Q: [1,1,2,2,4,4,6,6,8,8,8,10,12,16,12,17,16,18,21,20,23,23,25,27,29,34,34,35,38,40,43,45,48,51,53,56,59,62,65,68],
  H: [1,1,2,4,4,4,5,6,8,8,11,11,16,16,18,16,19,21,25,25,25,34,30,32,35,37,40,42,45,48,51,54,57,60,63,66,70,74,77,81],
};

/** Modules along one side. */
export const qrSize = (version: number): number => 17 + 4 * version;

/** Centre coordinates of the alignment patterns along one axis, in modules from the top left. */
export function alignmentCentres(version: number): number[] {
  if (version === 1) return [];
  const count = Math.floor(version / 7) + 2;
  const step = version === 32 ? 26 : Math.ceil((version * 4 + 4) / (count * 2 - 2)) * 2;
  const centres = [6];
  for (let i = count - 2; i >= 0; i--) centres.push(qrSize(version) - 7 - i * step);
  return centres;
}

/** Codewords (data and check together) that a version holds. */
function totalCodewords(version: number): number {
  let modules = (16 * version + 128) * version + 64;
  if (version >= 2) {
    const count = Math.floor(version / 7) + 2;
    modules -= (25 * count - 10) * count - 55;
    if (version >= 7) modules -= 36;
  }
  return modules >> 3;
}

export interface BlockLayout {
  /** Data codewords of the whole symbol. */
  dataWords: number;
  totalWords: number;
  blocks: number;
  checkWords: number;
  /** Data codewords of a short block; long blocks hold one more. */
  shortData: number;
  /** Number of short blocks, which come first. */
  shortBlocks: number;
}

const layouts = new Map<string, BlockLayout>();

export function blockLayout(version: number, level: QrLevel): BlockLayout {
  const key = level + version;
  const known = layouts.get(key);
  if (known) return known;
  const totalWords = totalCodewords(version);
  const blocks = blockCounts[level][version - 1]!;
  const checkWords = checkWordsPerBlock[level][version - 1]!;
  const dataWords = totalWords - blocks * checkWords;
  const shortData = Math.floor(dataWords / blocks);
  const layout = {
    dataWords,
    totalWords,
    blocks,
    checkWords,
    shortData,
    shortBlocks: blocks - (dataWords % blocks),
  };
  layouts.set(key, layout);
  return layout;
}

/**
 * Bits of the character count for numeric, alphanumeric, byte and kanji segments, by group of
 * versions.
 */
export const countBits = [
  [10, 9, 8, 8],
  [12, 11, 16, 10],
  [14, 13, 16, 12],
] as const;

/** 0 for versions 1 to 9, 1 for 10 to 26, 2 for 27 to 40. */
export const versionGroup = (version: number): 0 | 1 | 2 =>
  version <= 9 ? 0 : version <= 26 ? 1 : 2;
