/**
 * QR codes per second beside four peers, on the same addresses, in one process, runs interleaved.
 */
import { correction, generate } from 'lean-qr';
import encodeQR from 'qr';
import qrcode from 'qrcode';
import { encode as uqr } from 'uqr';
import { encode } from '../src/core/symbology';
import { addresses, interleave, report } from './measure';

export function benchQr(): void {
  const list = addresses(2000);
  const runs = {
    ours: () => list.forEach((text) => encode('qr', text, { level: 'M', raiseLevel: false })),
    qr: () => list.forEach((text) => encodeQR(text, 'raw', { ecc: 'medium' })),
    qrcode: () => list.forEach((text) => qrcode.create(text, { errorCorrectionLevel: 'M' })),
    uqr: () => list.forEach((text) => uqr(text, { ecc: 'M', border: 0, boostEcc: false })),
    'lean-qr': () =>
      list.forEach((text) =>
        generate(text, { minCorrectionLevel: correction.M, maxCorrectionLevel: correction.M }),
      ),
  };
  const medians = interleave(runs, 7);
  for (const peer of ['qr', 'qrcode', 'uqr', 'lean-qr'] as const)
    report(
      `QR codes per second, beside ${peer}`,
      list.length / medians.ours,
      list.length / medians[peer],
      'higher',
    );
}
