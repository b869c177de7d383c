import { getDocument, type PDFDocumentProxy } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { createCanvas } from '@napi-rs/canvas';
import type { GreyImage } from '../../core/artwork/raster';

/** Dots per inch at which pages are read. */
const readingDpi = 300;

/** The pages of a PDF as a printer would set them, one at a time. */
export async function* pagesOf(bytes: Uint8Array, dpi = readingDpi): AsyncGenerator<GreyImage> {
  const document: PDFDocumentProxy = await getDocument({
    data: Uint8Array.from(bytes),
    useSystemFonts: false,
    isEvalSupported: false,
    verbosity: 0,
  }).promise;
  try {
    for (let number = 1; number <= document.numPages; number++) {
      const page = await document.getPage(number);
      const viewport = page.getViewport({ scale: dpi / 72 });
      const canvas = createCanvas(Math.ceil(viewport.width), Math.ceil(viewport.height));
      const context = canvas.getContext('2d');
      context.fillStyle = '#ffffff';
      context.fillRect(0, 0, canvas.width, canvas.height);
      await page.render({
        canvas: null,
        canvasContext: context as unknown as CanvasRenderingContext2D,
        viewport,
      }).promise;
      yield grey(canvas.data(), canvas.width, canvas.height);
      page.cleanup();
    }
  } finally {
    await document.destroy();
  }
}

function grey(rgba: Uint8Array, width: number, height: number): GreyImage {
  const pixels = new Uint8Array(width * height);
  for (let i = 0, o = 0; i < pixels.length; i++, o += 4)
    pixels[i] = (rgba[o] * 77 + rgba[o + 1] * 150 + rgba[o + 2] * 29) >> 8;
  return { width, height, pixels };
}
