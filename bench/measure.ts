/** Made-up addresses of about 60 characters. */
export function addresses(count: number): string[] {
  return Array.from(
    { length: count },
    (_, i) =>
      `https://marrambay.example/v/dh-${String(i).padStart(5, '0')}?t=${((i * 2654435761) >>> 0).toString(36).padStart(7, 'k')}${((i * 40503) >>> 0).toString(36).padStart(12, 'q')}`,
  );
}

/** What a part of the answers took at most, in ms. */
export const quantile = (times: readonly number[], q: number): number =>
  [...times].sort((a, b) => a - b)[Math.min(times.length - 1, Math.floor(times.length * q))];

export const median = (values: number[]): number =>
  values.sort((a, b) => a - b)[Math.floor(values.length / 2)];

/** Runs each measure `rounds` times in turn, after one round to warm up; median seconds of each. */
export function interleave<K extends string>(
  runs: Record<K, () => void>,
  rounds: number,
): Record<K, number> {
  const times = Object.fromEntries(
    Object.keys(runs).map((name) => [name, []]),
  ) as unknown as Record<K, number[]>;
  for (let round = -1; round < rounds; round++)
    for (const name of Object.keys(runs) as K[]) {
      const start = performance.now();
      runs[name]();
      if (round >= 0) times[name].push((performance.now() - start) / 1000);
    }
  return Object.fromEntries(
    (Object.keys(runs) as K[]).map((name) => [name, median(times[name])]),
  ) as Record<K, number>;
}

/** One line per measure: name: ours, peer, ratio. Above 1 we are ahead. */
export function report(name: string, ours: number, peer: number, better: 'higher' | 'lower'): void {
  const ratio = better === 'higher' ? ours / peer : peer / ours;
  const show = (n: number) => (n >= 100 ? n.toFixed(0) : n.toFixed(2));
  console.log(`${name}: ${show(ours)}, ${show(peer)}, ${ratio.toFixed(2)}`);
}
