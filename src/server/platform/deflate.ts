import { deflateSync } from 'node:zlib';

/**
 * Compresses for PDF, in zlib format. Level 4: measured on pages of codes it takes two fifths of
 * the time of the usual level 6, for files that are a fifth larger.
 */
export const deflate = (bytes: Uint8Array): Buffer => deflateSync(bytes, { level: 4 });
