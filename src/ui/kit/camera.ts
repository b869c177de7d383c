import { camera as wording } from './words';
import { filled } from './with-parts';
/** What keeps a camera from being used, in words, and what to do instead. */
export function cameraTrouble(error: unknown): string {
  const name = error instanceof DOMException ? error.name : '';
  if (name === 'NotAllowedError' || name === 'SecurityError') return wording.thisPageMayNot;
  if (name === 'NotFoundError' || name === 'OverconstrainedError') return wording.thisDeviceHasNo;
  if (name === 'NotReadableError' || name === 'AbortError') return wording.anotherProgramIsUsing;
  return wording.theCameraWorksOnly;
}

const largest = 1600;

/** A picture as grey values, no larger than the reader needs. */
export function greyOf(
  image: CanvasImageSource,
  fullWidth: number,
  fullHeight: number,
  most = largest,
) {
  const shrink = Math.min(1, most / Math.max(fullWidth, fullHeight));
  const [width, height] = [
    Math.max(1, Math.round(fullWidth * shrink)),
    Math.max(1, Math.round(fullHeight * shrink)),
  ];
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.fillStyle = '#fff';
  context.fillRect(0, 0, width, height);
  context.drawImage(image, 0, 0, width, height);
  const { data } = context.getImageData(0, 0, width, height);
  const grey = new Uint8Array(width * height);
  for (let i = 0; i < grey.length; i++)
    grey[i] = (data[i * 4]! * 77 + data[i * 4 + 1]! * 151 + data[i * 4 + 2]! * 28) >> 8;
  return { grey, width, height };
}

/**
 * A sheet of paper is read at up to so many pixels across, so that many small codes are resolved.
 */
const sheetLargest = 4000;

/**
 * A picture file of a sheet of paper as grey values. @throws Error in words if the browser cannot
 * open it
 */
export async function greyOfSheet(file: File) {
  const bitmap = await createImageBitmap(file).catch(() => {
    throw new Error(filled(wording.isNotAPicture, file.name));
  });
  return greyOf(bitmap, bitmap.width, bitmap.height, sheetLargest);
}
