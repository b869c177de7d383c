import type { BlockMap, MatrixSymbol } from '../types';
import { placementMap } from './placement';
import { sizeOf } from './sizes';

/**
 * Which codeword each module of a Data Matrix belongs to, the block of each codeword, and how many
 * a block can correct.
 */
export function blockOfModule(symbol: MatrixSymbol): BlockMap {
  const size = sizeOf(symbol);
  const { map, height, width } = placementMap(size);
  const codewordOf = new Int32Array(symbol.rows * symbol.columns).fill(-1);
  const regionRows = height / size.down;
  const regionColumns = width / size.across;
  for (let r = 0; r < height; r++)
    for (let c = 0; c < width; c++) {
      const from = map[r * width + c]!;
      if (from >= 0)
        codewordOf[
          (r + 1 + 2 * Math.floor(r / regionRows)) * symbol.columns +
            c +
            1 +
            2 * Math.floor(c / regionColumns)
        ] = from >> 3;
    }
  const blockOf = Int32Array.from(
    { length: size.dataWords + size.checkWords },
    (_, i) => i % size.blocks,
  );
  return { codewordOf, blockOf, capacity: Math.floor(size.checkWords / size.blocks / 2) };
}
