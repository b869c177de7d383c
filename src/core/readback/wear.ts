import { mapped } from '../base/tuple';

/** The ways in which a code is worn. To add one, add its entry here. */
export interface Wear {
  id: string;
  /** What grows. */
  name: string;
  unit: string;
  /** Amounts tried, from none upwards; reading gets harder with each. */
  amounts: readonly number[];
  /** Whether chance has a part in it, so that each amount is tried several times. */
  chance: boolean;
  /** The words for an amount. */
  say(amount: number): string;
}

const percents = (to: number, step: number): number[] =>
  Array.from({ length: Math.floor(to / step) + 1 }, (_, i) => i * step);
const percent = (amount: number): string => `${amount}%`;

export const wears: readonly Wear[] = [
  {
    id: 'corner',
    name: 'covered from one corner',
    unit: '% of the area',
    amounts: percents(45, 3),
    chance: false,
    say: percent,
  },
  {
    id: 'middle',
    name: 'covered in the middle',
    unit: '% of the area',
    amounts: percents(45, 3),
    chance: false,
    say: percent,
  },
  {
    id: 'scattered',
    name: 'specks and scratches',
    unit: '% of the area',
    amounts: [0, 1, 2, 3, 4, 5, 6, 8, 10, 12, 15, 18, 21, 25, 30],
    chance: true,
    say: percent,
  },
  {
    id: 'blur',
    name: 'blurred',
    unit: 'modules',
    amounts: [0, 0.2, 0.4, 0.6, 0.8, 1, 1.2, 1.4, 1.6],
    chance: false,
    say: (a) => `${a.toFixed(1)} squares`,
  },
  {
    id: 'faded',
    name: 'faded',
    unit: '% of the contrast lost',
    amounts: [0, 20, 40, 60, 70, 80, 85, 90, 94, 97],
    chance: false,
    say: percent,
  },
  {
    id: 'spread',
    name: 'spreading ink',
    unit: '% of a square, on every side',
    amounts: [0, 17, 33, 50, 67, 83, 100],
    chance: false,
    say: percent,
  },
  {
    id: 'tilt',
    name: 'tilted',
    unit: 'degrees',
    amounts: [...percents(80, 10), 84, 87],
    chance: false,
    say: (a) => `${a}°`,
  },
  {
    id: 'distance',
    name: 'far away',
    unit: 'pixels per square',
    amounts: [4, 3, 2.5, 2, 1.75, 1.5, 1.25, 1, 0.85, 0.7],
    chance: false,
    say: (a) => `${a} pixels per square`,
  },
];

export interface WearCurve {
  wear: string;
  /** Module of the code that was worn, in mm. */
  moduleMm: number;
  points: { amount: number; read: number; tried: number }[];
  /**
   * The greatest amount up to which three quarters of the tries were read, or all where chance has
   * no part; undefined for none.
   */
  survives?: number;
  /**
   * If chance has a part, the range of amounts: up to the first, three quarters are certainly read;
   * beyond the second, certainly not (95% score intervals, Wilson 1927). The first, or both, are
   * undefined if not even the least amount is certain.
   */
  range: { least?: number; most?: number };
}

/** The share of tries wanted. */
export const wanted = 0.75;

/**
 * The 95% interval of the true share, given how many of some tries were read (Wilson score
 * interval).
 */
export function shareBetween(read: number, tried: number): [low: number, high: number] {
  const z = 1.96;
  const share = read / tried;
  const middle = share + (z * z) / (2 * tried);
  const half = z * Math.sqrt((share * (1 - share)) / tried + (z * z) / (4 * tried * tried));
  const whole = 1 + (z * z) / tried;
  return [(middle - half) / whole, (middle + half) / whole];
}

/** Whether two codes really differ in what they survive, or only by chance. */
export const reallyDiffer = (a: WearCurve, b: WearCurve): boolean => {
  const places = (curve: WearCurve) =>
    mapped([curve.range.least, curve.range.most], (amount) =>
      curve.points.findIndex((p) => p.amount === amount),
    );
  const [[aLow, aHigh], [bLow, bHigh]] = [places(a), places(b)];
  return aHigh < bLow || bHigh < aLow;
};

/**
 * The distance of a usual phone at which a module is so many pixels wide, in mm: 1,920 pixels
 * across a view of 65°.
 */
export const cameraDistance = (moduleMm: number, pixels: number): number =>
  (moduleMm * 1920) / (pixels * 2 * Math.tan((65 / 2) * (Math.PI / 180)));
