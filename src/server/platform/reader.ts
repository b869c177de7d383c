import { readFileSync } from 'node:fs';
import { prepareReader } from '../../core/readback/readback';
import { packageFile } from './packages';

let ready = false;

/**
 * Hands the independent reader its program from the package; without this it would ask the network
 * for it.
 */
export function provideReader(): void {
  if (ready) return;
  const file = readFileSync(packageFile('zxing-wasm', 'dist/reader/zxing_reader.wasm'));
  prepareReader({
    wasm: file.buffer.slice(file.byteOffset, file.byteOffset + file.byteLength) as ArrayBuffer,
  });
  ready = true;
}
