import type { PathItem, TextItem } from '../drawing/drawing';
import type { FontBook } from './fonts';

/**
 * A line of text as outlines, for files that cannot contain a typeface. @throws Error if its
 * typeface is not loaded
 */
export function outlined(item: TextItem, fonts: FontBook): PathItem {
  const face = fonts.font(item.font);
  const scale = item.sizeMm / face.unitsPerEm;
  const path: number[] = [];
  for (const glyph of item.glyphs) {
    const at = (x: number, y: number): [number, number] => [
      glyph.x + x * scale,
      -glyph.dy - y * scale,
    ];
    let [lastX, lastY] = [0, 0];
    for (const { command, args } of face.outline(glyph.id)) {
      if (command === 'closePath') path.push(3);
      else if (command === 'moveTo') path.push(0, ...at(args[0]!, args[1]!));
      else if (command === 'lineTo') path.push(1, ...at(args[0]!, args[1]!));
      else if (command === 'bezierCurveTo')
        path.push(
          2,
          ...at(args[0]!, args[1]!),
          ...at(args[2]!, args[3]!),
          ...at(args[4]!, args[5]!),
        );
      else {
        // the same curve with two handles
        const [cx = 0, cy = 0, x = 0, y = 0] = args;
        path.push(
          2,
          ...at(lastX + (2 / 3) * (cx - lastX), lastY + (2 / 3) * (cy - lastY)),
          ...at(x + (2 / 3) * (cx - x), y + (2 / 3) * (cy - y)),
          ...at(x, y),
        );
      }
      if (args.length > 0) [lastX, lastY] = [args.at(-2)!, args.at(-1)!];
    }
  }
  return { kind: 'path', path, x: item.x, y: item.y, unitMm: 1, fill: item.fill };
}
