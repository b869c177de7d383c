import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { prepareReader } from '../../core/readback/readback';

let ready = false;

/**
 * Hands the independent reader its program from the package; without this it would ask the network
 * for it.
 */
export function provideReader(): void {
  if (ready) return;
  const file = readFileSync(
    join(process.cwd(), 'node_modules/zxing-wasm/dist/reader/zxing_reader.wasm'),
  );
  prepareReader({
    wasm: file.buffer.slice(file.byteOffset, file.byteOffset + file.byteLength) as ArrayBuffer,
  });
  ready = true;
}
