import * as z from 'zod';

/**
 * A picture as pixels: red, green, blue and opacity, one byte each, row by row from the top left.
 */
export interface Picture {
  width: number;
  height: number;
  rgba: Uint8Array;
}

/**
 * A picture as it is kept in a look: the PNG that `encodePicture` writes, in base64. Uploads
 * of every kind are redrawn into this form on the server, so that nothing but pixels is ever taken
 * in.
 */
export const keptPictureSchema = z.object({
  name: z.string().max(200),
  width: z.number().int().min(1).max(1024),
  height: z.number().int().min(1).max(1024),
  png: z.string().max(2_000_000),
});
export type KeptPicture = z.infer<typeof keptPictureSchema>;

export function toBase64(bytes: Uint8Array): string {
  let text = '';
  for (let i = 0; i < bytes.length; i += 8192)
    text += String.fromCharCode(...bytes.subarray(i, i + 8192));
  return btoa(text);
}
