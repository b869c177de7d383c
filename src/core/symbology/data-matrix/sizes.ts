/**
 * Sizes of Data Matrix ECC 200 (ISO/IEC 16022): 24 square, 6 rectangular. Proven by module
 * comparison of every size with an independent writer (tests/core/symbology/data-matrix.test.ts).
 */
export interface DataMatrixSize {
  rows: number;
  columns: number;
  /** Data regions down and across. */
  down: number;
  across: number;
  dataWords: number;
  checkWords: number;
  blocks: number;
}

const square = (
  side: number,
  regions: number,
  dataWords: number,
  checkWords: number,
  blocks = 1,
): DataMatrixSize => ({
  rows: side,
  columns: side,
  down: regions,
  across: regions,
  dataWords,
  checkWords,
  blocks,
});
const rectangle = (
  rows: number,
  columns: number,
  across: number,
  dataWords: number,
  checkWords: number,
): DataMatrixSize => ({
  rows,
  columns,
  down: 1,
  across,
  dataWords,
  checkWords,
  blocks: 1,
});

// prettier-ignore
export const squareSizes: readonly DataMatrixSize[] = [
  square(10, 1, 3, 5), square(12, 1, 5, 7), square(14, 1, 8, 10), square(16, 1, 12, 12), square(18, 1, 18, 14), square(20, 1, 22, 18),
  square(22, 1, 30, 20), square(24, 1, 36, 24), square(26, 1, 44, 28), square(32, 2, 62, 36), square(36, 2, 86, 42), square(40, 2, 114, 48),
  square(44, 2, 144, 56), square(48, 2, 174, 68), square(52, 2, 204, 84, 2), square(64, 4, 280, 112, 2), square(72, 4, 368, 144, 4), square(80, 4, 456, 192, 4),
  square(88, 4, 576, 224, 4), square(96, 4, 696, 272, 4), square(104, 4, 816, 336, 6), square(120, 6, 1050, 408, 6), square(132, 6, 1304, 496, 8), square(144, 6, 1558, 620, 10),
];

// prettier-ignore
export const rectangleSizes: readonly DataMatrixSize[] = [
  rectangle(8, 18, 1, 5, 7), rectangle(8, 32, 2, 10, 11), rectangle(12, 26, 1, 16, 14), rectangle(12, 36, 2, 22, 18), rectangle(16, 36, 2, 32, 24), rectangle(16, 48, 2, 49, 28),
];

/** The size of a finished symbol. */
export const sizeOf = ({ rows, columns }: { rows: number; columns: number }): DataMatrixSize =>
  [...squareSizes, ...rectangleSizes].find((s) => s.rows === rows && s.columns === columns)!;

/** Whether a module belongs to the pattern round a region, by which a reader finds the symbol. */
export function isFinderModule(
  symbol: { rows: number; columns: number },
  row: number,
  column: number,
): boolean {
  const { down, across } = sizeOf(symbol);
  const [height, width] = [symbol.rows / down, symbol.columns / across];
  const [y, x] = [row % height, column % width];
  return y === 0 || x === 0 || y === height - 1 || x === width - 1;
}
