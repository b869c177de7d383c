/**
 * Every symbology that the independent writer can draw too: encoding with SVG and PNG, and encoding
 * alone, beside it.
 */
import { readFileSync } from 'node:fs';
import { prepareZXingModule, writeBarcode } from 'zxing-wasm/writer';
import { renderPng } from '../src/core/artwork/png';
import { renderSvg } from '../src/core/artwork/svg';
import { gs1CheckDigit } from '../src/core/base/check-digit';
import { encode, type EncodeOptions, type SymbologyId } from '../src/core/symbology';
import { median, report } from './measure';

const digits = (length: number) => (i: number) =>
  String(1000003 * (i + 17))
    .padStart(length, '2')
    .slice(-length);
const withCheck = (text: string) => text + gs1CheckDigit(text);
const word = (i: number) => `DH-${String(i).padStart(4, '0')}`;
const product = (i: number) => `(01)02000411000017(10)${word(i)}`;

const cases: [SymbologyId, string, (i: number) => string, EncodeOptions?, string?][] = [
  ['qr', 'QRCode', (i) => `https://marrambay.example/v/${word(i)}`],
  ['micro-qr', 'MicroQRCode', digits(12)],
  ['rmqr', 'RMQRCode', word],
  ['data-matrix', 'DataMatrix', (i) => `Dune House ${word(i)}`],
  ['aztec', 'Aztec', (i) => `Dune House ${word(i)}`],
  ['pdf417', 'PDF417', (i) => `Ines Okafor, Dune House, badge ${word(i)}`],
  ['maxicode', 'MaxiCode', (i) => `DUNE HOUSE ${word(i)}`],
  ['code-128', 'Code128', word],
  ['code-39', 'Code39', word],
  ['code-93', 'Code93', word],
  ['codabar', 'Codabar', (i) => `A${digits(8)(i)}B`],
  ['itf', 'ITF', digits(10)],
  ['itf-14', 'ITF14', (i) => withCheck(`12${digits(11)(i)}`)],
  ['ean-13', 'EAN13', (i) => withCheck(`20${digits(10)(i)}`)],
  ['ean-8', 'EAN8', (i) => withCheck(digits(7)(i))],
  ['upc-a', 'UPCA', (i) => withCheck(`04${digits(9)(i)}`)],
  ['upc-e', 'UPCE', (i) => `${digits(4)(i)}7${5 + (i % 5)}`, { addCheckDigit: true }],
  ['gs1-128', 'Code128', product, {}, 'gs1'],
  ['gs1-databar', 'DataBarExp', product, { databar: 'expanded' }],
  ['gs1-data-matrix', 'DataMatrix', product, {}, 'gs1'],
  ['gs1-qr', 'QRCode', product, {}, 'gs1'],
];

export async function benchSymbologies(): Promise<void> {
  const file = readFileSync('node_modules/zxing-wasm/dist/writer/zxing_writer.wasm');
  prepareZXingModule({
    overrides: {
      wasmBinary: file.buffer.slice(
        file.byteOffset,
        file.byteOffset + file.byteLength,
      ) as ArrayBuffer,
    },
  });
  const whole: number[] = [];
  const alone: number[] = [];
  for (const [id, format, payloadOf, options = {}, more = ''] of cases) {
    const payloads = Array.from({ length: 60 }, (_, i) => payloadOf(i));
    const times = { ours: [] as number[], encode: [] as number[], peer: [] as number[] };
    const timed = async (list: number[], keep: boolean, work: () => Promise<void> | void) => {
      const start = performance.now();
      await work();
      if (keep) list.push((performance.now() - start) / payloads.length);
    };
    for (let round = -1; round < 5; round++) {
      await timed(times.ours, round >= 0, () =>
        payloads.forEach((payload) => {
          const symbol = encode(id, payload, options);
          renderSvg(symbol);
          renderPng(symbol, { dotsPerModule: 4 });
        }),
      );
      await timed(times.encode, round >= 0, () =>
        payloads.forEach((payload) => void encode(id, payload, options)),
      );
      await timed(times.peer, round >= 0, async () => {
        for (const payload of payloads) {
          const result = await writeBarcode(payload, {
            format: format as 'QRCode',
            options: more,
            scale: 4,
          });
          if (result.error) throw new Error(`${id}: ${result.error}`);
        }
      });
    }
    const [ours, encoding, peer] = [median(times.ours), median(times.encode), median(times.peer)];
    report(
      `${id}: milliseconds to encode, SVG and PNG, beside the writer of zxing-wasm`,
      ours,
      peer,
      'lower',
    );
    report(`${id}: milliseconds to encode, beside the same`, encoding, peer, 'lower');
    whole.push(peer / ours);
    alone.push(peer / encoding);
  }
  console.log(
    `symbologies, encode with SVG and PNG: median ratio ${median(whole).toFixed(2)}, least ${Math.min(...whole).toFixed(2)}`,
  );
  console.log(
    `symbologies, encode alone: median ratio ${median(alone).toFixed(2)}, least ${Math.min(...alone).toFixed(2)}`,
  );
}
