import { writeFileSync } from 'node:fs';
import { PNG } from 'pngjs';

/**
 * A film of one still picture in the format that Chromium takes for a camera (YUV4MPEG2, 4:2:0),
 * 640 × 480, the picture in its middle.
 */
export function filmOf(picture: Uint8Array, path: string): void {
  const png = PNG.sync.read(Buffer.from(picture));
  const [width, height] = [640, 480];
  const luma = Buffer.alloc(width * height, 235);
  const [left, top] = [Math.floor((width - png.width) / 2), Math.floor((height - png.height) / 2)];
  if (left < 0 || top < 0) throw new Error('the picture is larger than the film');
  for (let y = 0; y < png.height; y++)
    for (let x = 0; x < png.width; x++)
      luma[(y + top) * width + x + left] = png.data[(y * png.width + x) * 4]! < 128 ? 16 : 235;
  const frame = Buffer.concat([
    Buffer.from('FRAME\n'),
    luma,
    Buffer.alloc((width * height) / 2, 128),
  ]);
  writeFileSync(
    path,
    Buffer.concat([
      Buffer.from(`YUV4MPEG2 W${width} H${height} F10:1 Ip A1:1 C420jpeg\n`),
      ...Array.from({ length: 10 }, () => frame),
    ]),
  );
}
