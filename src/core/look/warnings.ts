import { mmWords } from '../base/words';
import { mapped } from '../base/tuple';
import { contrastRatio, hexOf, luminance, parseColour, type Rgb } from './colour';
import { mmPerInch, modulePerDistance, smallestModuleMm, type Look } from './look';

export interface LookWarning {
  kind:
    | 'contrast'
    | 'inverted'
    | 'red-light'
    | 'small-module'
    | 'quiet-zone'
    | 'capacity'
    | 'behind'
    | 'too-large'
    | 'shape';
  message: string;
  /** The fix, in words. */
  mend: string;
  /** The same as a change of the look. */
  fix: Partial<Look>;
}

/** Contrast that scanners want between code and ground. */
const wantedContrast = 4;

/** The colour, darkened in small steps until it has the contrast that scanners need. */
function darker(colour: Rgb, ground: Rgb): string {
  let { r, g, b } = colour;
  while (contrastRatio({ r, g, b }, ground) < wantedContrast + 0.5 && r + g + b > 0)
    [r, g, b] = mapped([r, g, b], (v) => Math.max(0, Math.floor(v * 0.93 - 1)));
  return hexOf({ r, g, b });
}

/**
 * Likely problems of a look, before anything is printed.
 * @param size the module in mm, and the width of the whole in modules
 */
export function lookWarnings(
  look: Look,
  { moduleMm, columns }: { moduleMm: number; columns: number },
): LookWarning[] {
  const { distanceMm } = look;
  const warnings: LookWarning[] = [];
  const ground = look.background === 'transparent' ? '#ffffff' : look.background;
  const back = parseColour(ground);
  const fores = [look.foreground, ...(look.gradient ? [look.gradient.to] : [])].map(parseColour);
  const seen = new Set<string>();
  const warn = (warning: LookWarning) => {
    if (!seen.has(warning.kind)) warnings.push(warning);
    seen.add(warning.kind);
  };
  for (const fore of fores) {
    if (!fore || !back) continue;
    const ratio = contrastRatio(fore, back);
    if (luminance(fore) > luminance(back))
      warn({
        kind: 'inverted',
        message: 'Light on dark: many scanners read only dark on light.',
        mend: 'Swap the two colours.',
        fix: {
          foreground: ground,
          background: look.foreground,
          ...(look.gradient ? { gradient: undefined } : {}),
        },
      });
    else if (ratio < wantedContrast)
      warn({
        kind: 'contrast',
        message: `The colours are too close: contrast ${ratio.toFixed(1)} to 1. Scanners need ${wantedContrast} or more.`,
        mend: 'Use a darker colour for the code.',
        fix: {
          foreground: darker(fores[0]!, back),
          ...(look.gradient && fores[1]
            ? { gradient: { ...look.gradient, to: darker(fores[1], back) } }
            : {}),
        },
      });
    if (back.r - fore.r < 100 && luminance(fore) <= luminance(back))
      warn({
        kind: 'red-light',
        message:
          'Scanners with red light see this colour as light; they see black, blue, green and violet as dark.',
        mend: 'Use black for the code.',
        fix: { foreground: '#000000', ...(look.gradient ? { gradient: undefined } : {}) },
      });
  }
  const finest = Math.max(smallestModuleMm, (distanceMm ?? 0) * modulePerDistance);
  if (moduleMm < (distanceMm === undefined ? smallestModuleMm : distanceMm * modulePerDistance)) {
    const reach =
      distanceMm === undefined
        ? `at arm’s length (${smallestModuleMm} mm)`
        : `at ${(distanceMm / 10).toFixed(0)} cm (${(distanceMm * modulePerDistance).toFixed(2)} mm)`;
    const perMm = look.dpi / mmPerInch;
    const module = look.wholeDots ? Math.ceil(finest * perMm - 1e-9) / perMm : finest;
    const sizeMm = Math.ceil(module * columns * 10) / 10;
    warn({
      kind: 'small-module',
      message: `The squares of ${moduleMm.toFixed(2)} mm are too small for phones ${reach}. Shorter content helps too.`,
      mend: `Make the code ${mmWords(sizeMm)} wide.`,
      fix: { sizeMm: Math.min(300, sizeMm), moduleDots: undefined },
    });
  }
  if ((look.reduceMm ?? 0) > moduleMm * 0.5) {
    const reduceMm = Math.floor(moduleMm * 25) / 100;
    warn({
      kind: 'shape',
      message: `Narrowing by ${look.reduceMm} mm is more than half of a square of ${moduleMm.toFixed(2)} mm.`,
      mend: `Narrow it by ${mmWords(reduceMm)}.`,
      fix: { reduceMm: reduceMm || undefined },
    });
  }
  if (look.behind && look.behind.strength > 0.1)
    warn({
      kind: 'behind',
      message: 'The background picture is strong enough to be read as squares.',
      mend: 'Lighten it to 10%.',
      fix: { behind: { ...look.behind, strength: 0.1 } },
    });
  if (!look.quietZone)
    warn({
      kind: 'quiet-zone',
      message: 'Without its quiet zone a code is often not found.',
      mend: 'Turn the quiet zone on.',
      fix: { quietZone: true },
    });
  return warnings;
}
