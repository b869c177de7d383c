import type { DataMatrixSize } from './sizes';

const maps = new Map<string, Int32Array>();

/**
 * Where each module of the mapping matrix takes its bit from (ISO/IEC 16022, symbol character
 * placement): codeword × 8 + bit from the most significant; -1 light and -2 dark for the fixed
 * corner.
 */
export function placementMap({ rows, columns, down, across }: DataMatrixSize): {
  map: Int32Array;
  height: number;
  width: number;
} {
  const height = rows - 2 * down;
  const width = columns - 2 * across;
  const key = `${height}×${width}`;
  let map = maps.get(key);
  if (!map) maps.set(key, (map = build(height, width)));
  return { map, height, width };
}

function build(height: number, width: number): Int32Array {
  const empty = -3;
  const map = new Int32Array(height * width).fill(empty);
  const put = (r: number, c: number, word: number, bit: number) => {
    let [row, column] = [r, c];
    if (row < 0) {
      row += height;
      column += 4 - ((height + 4) % 8);
    }
    if (column < 0) {
      column += width;
      row += 4 - ((width + 4) % 8);
    }
    map[row * width + column] = word * 8 + bit;
  };
  const shape = (word: number, cells: readonly (readonly [number, number])[]) =>
    cells.forEach(([r, c], bit) => put(r, c, word, bit));
  const usual = (r: number, c: number, word: number) =>
    shape(word, [
      [r - 2, c - 2],
      [r - 2, c - 1],
      [r - 1, c - 2],
      [r - 1, c - 1],
      [r - 1, c],
      [r, c - 2],
      [r, c - 1],
      [r, c],
    ]);
  const [h, w] = [height, width];
  let word = 0;
  let r = 4;
  let c = 0;
  do {
    if (r === h && c === 0)
      shape(word++, [
        [h - 1, 0],
        [h - 1, 1],
        [h - 1, 2],
        [0, w - 2],
        [0, w - 1],
        [1, w - 1],
        [2, w - 1],
        [3, w - 1],
      ]);
    if (r === h - 2 && c === 0 && w % 4 !== 0)
      shape(word++, [
        [h - 3, 0],
        [h - 2, 0],
        [h - 1, 0],
        [0, w - 4],
        [0, w - 3],
        [0, w - 2],
        [0, w - 1],
        [1, w - 1],
      ]);
    if (r === h - 2 && c === 0 && w % 8 === 4)
      shape(word++, [
        [h - 3, 0],
        [h - 2, 0],
        [h - 1, 0],
        [0, w - 2],
        [0, w - 1],
        [1, w - 1],
        [2, w - 1],
        [3, w - 1],
      ]);
    if (r === h + 4 && c === 2 && w % 8 === 0)
      shape(word++, [
        [h - 1, 0],
        [h - 1, w - 1],
        [0, w - 3],
        [0, w - 2],
        [0, w - 1],
        [1, w - 3],
        [1, w - 2],
        [1, w - 1],
      ]);
    do {
      if (r < h && c >= 0 && map[r * w + c] === empty) usual(r, c, word++);
      r -= 2;
      c += 2;
    } while (r >= 0 && c < w);
    r += 1;
    c += 3;
    do {
      if (r >= 0 && c < w && map[r * w + c] === empty) usual(r, c, word++);
      r += 2;
      c -= 2;
    } while (r < h && c >= 0);
    r += 3;
    c += 1;
  } while (r < h || c < w);
  if (map[h * w - 1] === empty) {
    map[h * w - 1] = map[(h - 1) * w - 2] = -2;
    map[h * w - 2] = map[(h - 1) * w - 1] = -1;
  }
  return map;
}
