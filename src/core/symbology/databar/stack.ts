import type { Segment } from './expanded';

/** Rows of the stacked forms of GS1 DataBar, with the separators between them (ISO/IEC 24724). */
export interface Row {
  modules: Uint8Array;
  /** In modules. */
  height: number;
}

/**
 * The separator next to a row: the complement of its modules, except that beside the light parts of
 * a finder dark and light take turns, so that no finder is seen twice. Four modules at each end
 * stay light.
 * @param finderAreas first module and one past the last of each finder's three wide elements
 */
export function separatorRow(
  row: Uint8Array,
  finderAreas: readonly (readonly [number, number])[],
  from: number,
  to: number,
): Uint8Array {
  const out = new Uint8Array(row.length);
  for (let i = from; i < to; i++) out[i] = 1 - row[i]!;
  for (const [start, end] of finderAreas) {
    let previous = 0;
    for (let i = start; i < end; i++) {
      out[i] = row[i] === 1 ? 0 : 1 - previous;
      previous = out[i]!;
    }
  }
  return out;
}

/**
 * Rows of an expanded stacked symbol. Every other row runs from right to left when a row holds an
 * even number of finders.
 */
export function stackRows(segments: readonly Segment[], perRow: number): Row[] {
  const columns = 4 + (perRow / 2) * 49;
  const rows: Row[] = [];
  const count = Math.ceil(segments.length / perRow);
  const width =
    count === 1 ? 4 + Math.floor(segments.length / 2) * 49 + (segments.length % 2) * 32 : columns;
  for (let r = 0; r < count; r++) {
    const part = segments.slice(r * perRow, (r + 1) * perRow);
    const finders = Math.ceil(part.length / 2);
    const even = (perRow / 2) % 2 === 0;
    const backwards =
      r % 2 === 1 && even && !(r === count - 1 && part.length < perRow && finders % 2 === 1);
    const shifted = r % 2 === 1 && even && !backwards;
    const widths = [1, 1, ...part.flatMap((s) => [...s.widths, ...(s.finder ?? [])]), 1, 1];
    // colours go on where the row before ended
    const dark = r % 2 === 1 && !even;
    const line = new Uint8Array(widths.reduce((a, b) => a + b, 0) + (shifted ? 1 : 0));
    let at = shifted ? 1 : 0;
    widths.forEach((w, i) => {
      if ((i % 2 === 1) !== dark) line.fill(1, at, at + w);
      at += w;
    });
    const areas: [number, number][] = [];
    for (let k = 0, x = (shifted ? 1 : 0) + 2; k < part.length; k++) {
      x += 17;
      if (!part[k]!.finder) continue;
      // the three wide elements: the first three, or the last three when reversed
      const mirrored = part[k]!.finder![0] === 1 && part[k]!.finder![1] === 1;
      areas.push(mirrored ? [x + 2, x + 15] : [x, x + 13]);
      x += 15;
    }
    const beside = separatorRow(line, areas, shifted ? 5 : 4, line.length - 4);
    const modules = new Uint8Array(width);
    modules.set(backwards ? line.toReversed() : line);
    const next = new Uint8Array(width);
    next.set(backwards ? beside.toReversed() : beside);
    if (r > 0) {
      const middle = Uint8Array.from({ length: width }, (_, i) =>
        i >= 4 && i < width - 4 ? i % 2 : 0,
      );
      rows.push({ modules: middle, height: 1 }, { modules: next, height: 1 });
    }
    rows.push({ modules, height: 34 });
    if (r < count - 1) rows.push({ modules: next, height: 1 });
  }
  return rows;
}
