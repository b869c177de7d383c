import {
  CalendarDateTime,
  fromAbsolute,
  toZoned,
  type CalendarDate,
} from '@internationalized/date';
import { toCalendarDate } from '@internationalized/date';
import * as z from 'zod';
import { listed } from '../base/words';

const weekdays = [
  'Monday',
  'Tuesday',
  'Wednesday',
  'Thursday',
  'Friday',
  'Saturday',
  'Sunday',
] as const;
/** Monday is 1 (ISO 8601). */
const weekday = z.number().int().min(1).max(7);
const ordinals = ['first', 'second', 'third', 'fourth'] as const;

export const isZone = (zone: string): boolean => {
  try {
    new Intl.DateTimeFormat('en', { timeZone: zone });
    return true;
  } catch {
    return false;
  }
};

const clock = {
  /** Hours and minutes by the clock of the zone. */
  at: z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'Enter the time as hours and minutes: 07:30.'),
  /** A time zone of the IANA database. */
  zone: z.string().max(60).refine(isZone, 'This time zone is not known. Choose another.'),
};

/** How often something may be done again and again, in minutes. */
export const everyMinutes = [1, 5, 15, 30, 60] as const;

/** When something is done by the clock. */
export const scheduleSchema = z.discriminatedUnion('kind', [
  /** Again and again; the time of day does not matter. */
  z.object({ kind: z.literal('every'), minutes: z.literal(everyMinutes), ...clock }),
  z.object({
    kind: z.literal('days'),
    days: z.array(weekday).min(1, 'Choose a day of the week.').max(7),
    ...clock,
  }),
  z.object({
    kind: z.literal('month'),
    /** Which of its weekday in the month: 1 to 4; 0 for the last. */
    nth: z.number().int().min(0).max(4),
    day: weekday,
    ...clock,
  }),
]);
export type Schedule = z.infer<typeof scheduleSchema>;

/**
 * Longest between two times of any schedule, in days: from one fifth week to a month's end beyond.
 */
const longest = 70;

/**
 * The next time of a schedule after another, in ms since 1970. By local time: if clocks are put
 * forward over it, it is that much later; if they are put back over it, the first of the two
 * counts.
 */
export function nextAfter(schedule: Schedule, after: number): number {
  if (schedule.kind === 'every') {
    const step = schedule.minutes * 60_000;
    return (Math.floor(after / step) + 1) * step;
  }
  const [hour, minute] = schedule.at.split(':').map(Number) as [number, number];
  let day = toCalendarDate(fromAbsolute(after, schedule.zone));
  for (let i = 0; i < longest; i++, day = day.add({ days: 1 })) {
    if (!isDay(schedule, day)) continue;
    const { year, month, day: number } = day;
    const wall = new CalendarDateTime(year, month, number, hour, minute);
    const time = toZoned(wall, schedule.zone, 'compatible').toDate().getTime();
    if (time > after) return time;
  }
  throw new RangeError('This schedule never happens. Choose other days or another time.');
}

function isDay(schedule: Exclude<Schedule, { kind: 'every' }>, day: CalendarDate): boolean {
  const own = isoWeekday(day);
  if (schedule.kind === 'days') return schedule.days.includes(own);
  if (own !== schedule.day) return false;
  return schedule.nth === 0
    ? day.add({ weeks: 1 }).month !== day.month
    : Math.ceil(day.day / 7) === schedule.nth;
}

/** Of a day, Monday 1. */
const isoWeekday = ({ year, month, day }: CalendarDate): number =>
  new Date(Date.UTC(year, month - 1, day)).getUTCDay() || 7;

export const everyWords = (minutes: number): string =>
  minutes === 1 ? 'every minute' : minutes === 60 ? 'every hour' : `every ${minutes} minutes`;

/** A schedule read aloud: `every Friday at 07:30`. */
export function saysSchedule(schedule: Schedule): string {
  if (schedule.kind === 'every') return everyWords(schedule.minutes);
  const at = `at ${schedule.at}`;
  if (schedule.kind === 'month') {
    const which = schedule.nth === 0 ? 'last' : ordinals[schedule.nth - 1];
    return `on the ${which} ${weekdays[schedule.day - 1]} of every month ${at}`;
  }
  const days = [...new Set(schedule.days)].sort((a, b) => a - b);
  if (days.length === 7) return `every day ${at}`;
  if (days.join() === '1,2,3,4,5') return `from Monday to Friday ${at}`;
  return `every ${listed(days.map((day) => weekdays[day - 1]!))} ${at}`;
}
