import { encode, usualSymbology } from '../../../core/symbology';

/** How long each badge is in front of the camera, in ms, and the pause between two. */
const shownFor = 1500;
const pause = 700;
const [width, height] = [960, 540];
const quiet = 4;

/**
 * A film that stands in for a camera: badges are held in front of it one after the other, never
 * quite still or straight.
 * @returns the stream of a camera; it ends when its tracks are stopped
 */
export function filmOf(codes: readonly string[]): MediaStream {
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [width, height];
  const context = canvas.getContext('2d')!;
  const symbols = codes.map((code) => encode(usualSymbology, code, { level: 'M' }));
  const began = performance.now();
  const draw = () => {
    const time = performance.now() - began;
    const at = Math.floor(time / (shownFor + pause));
    const within = (time % (shownFor + pause)) / shownFor;
    const sky = context.createLinearGradient(0, 0, 0, height);
    sky.addColorStop(0, '#b9c4b4');
    sky.addColorStop(1, '#6f7a68');
    context.fillStyle = sky;
    context.fillRect(0, 0, width, height);
    const symbol = symbols[at % symbols.length];
    if (!symbol || within >= 1 || symbol.kind !== 'matrix') return;
    const sway = Math.sin(within * 5 + at);
    const cell = 8.4 + 1.4 * Math.sin(at * 1.7);
    const side = (symbol.columns + 2 * quiet) * cell;
    context.save();
    // it enters from the right, stays a moment and moves down
    context.translate(
      width / 2 + Math.max(0, 0.18 - within) * 2600 + sway * 14,
      height / 2 + Math.max(0, within - 0.85) * 2600 + sway * 8,
    );
    context.rotate(((at % 5) - 2) * 0.09 + sway * 0.04);
    context.fillStyle = '#fdfdf8';
    context.fillRect(-side / 2 - 26, -side / 2 - 18, side + 52, side + 46);
    context.fillStyle = '#26222e';
    for (let y = 0; y < symbol.rows; y++)
      for (let x = 0; x < symbol.columns; x++)
        if (symbol.modules[y * symbol.columns + x])
          context.fillRect(
            -side / 2 + (x + quiet) * cell,
            -side / 2 + (y + quiet) * cell,
            cell + 0.4,
            cell + 0.4,
          );
    context.restore();
  };
  draw();
  const stream = canvas.captureStream(25);
  const [track] = stream.getVideoTracks();
  const timer = setInterval(() => {
    if (track?.readyState === 'ended') clearInterval(timer);
    else draw();
  }, 40);
  return stream;
}
