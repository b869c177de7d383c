/** Whether encoding a million codes one after another makes the heap grow. */
import { encode } from '../src/core/symbology';

export function benchHeap(): void {
  const held = (): number => {
    (globalThis as { gc?: () => void }).gc?.();
    return process.memoryUsage().heapUsed / 2 ** 20;
  };
  const run = (from: number, to: number) => {
    for (let i = from; i < to; i++) encode('qr', `https://marrambay.example/v/dh-${i}`);
  };
  run(0, 20_000);
  const before = held();
  run(20_000, 1_020_000);
  console.log(
    `heap after a million QR codes, MB: ${held().toFixed(1)}, ${before.toFixed(1)} before, ${(held() / before).toFixed(2)}`,
  );
}
