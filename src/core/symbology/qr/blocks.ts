import type { BlockMap, MatrixSymbol } from '../types';
import { blockLayout, type QrLevel } from './tables';
import { templateFor } from './template';

/**
 * Which codeword each module of a QR code belongs to, the block of each codeword, and how many a
 * block can correct.
 */
export function blockOfModule({ facts, columns }: MatrixSymbol): BlockMap {
  const version = Number(facts.version);
  const template = templateFor(version);
  const layout = blockLayout(version, facts.level as QrLevel);
  const codewordOf = new Int32Array(columns * columns).fill(-1);
  template.order.forEach((at, i) => {
    const r = Math.floor((at >> 5) / template.words);
    const c = ((at >> 5) % template.words) * 32 + (at & 31);
    if (i >> 3 < layout.totalWords) codewordOf[r * columns + c] = i >> 3;
  });
  const { blocks, shortData, shortBlocks, dataWords } = layout;
  const blockOf = Int32Array.from({ length: layout.totalWords }, (_, i) => {
    if (i >= dataWords) return (i - dataWords) % blocks;
    // the last round of data holds only the long blocks
    return i < shortData * blocks ? i % blocks : shortBlocks + i - shortData * blocks;
  });
  // versions 1 to 3 keep some check words back so that no wrong payload is taken for a right one
  // (ISO/IEC 18004)
  const kept =
    version === 1
      ? { L: 3, M: 2, Q: 1, H: 1 }[facts.level as QrLevel]
      : version === 2 && facts.level === 'L'
        ? 2
        : version === 3 && facts.level === 'L'
          ? 1
          : 0;
  return { codewordOf, blockOf, capacity: Math.floor((layout.checkWords - kept) / 2) };
}
