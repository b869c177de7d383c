import { EncodeError } from '../symbology/types';
import { readDate } from '../records/dates';

/** The order of day and month in dates with slashes, if a person has chosen it. */
export type DateOrder = 'day' | 'month' | undefined;

/** No date is longer, in characters. */
const longest = 60;
const form = /^(.+?)(?:[T ,]+(\d{1,2}):?(\d\d)(?::?(\d\d))?\s*(am|pm)?\s*(Z|[+-]\d\d:?\d\d)?)?$/i;

const two = (n: number): string => String(n).padStart(2, '0');

/** A date as it was written, and the time of day with its offset from UTC in minutes, if any. */
interface Written {
  day: [year: number, month: number, day: number];
  time?: { hour: number; minute: number; second: number; offset: number | undefined };
}

/** @throws EncodeError if a text is not a certain date */
function readWritten(text: string, first: DateOrder): Written {
  const typed = text.trim();
  const parts = typed.length > longest ? null : form.exec(typed);
  const compact = /^(\d{4})(\d\d)(\d\d)$/.exec(parts?.[1] ?? '');
  const written = compact ? `${compact[1]}-${compact[2]}-${compact[3]}` : (parts?.[1] ?? '');
  const uncertain = first === undefined && /^\d\d?[/ -]\d\d?[/ -]\d{4}$/.test(written);
  // text after a day, as in “2026-11-23 to 25”, is not dropped without a word
  const more = /^\d{4}-/.test(written) && !/^\d{4}-\d\d?-\d\d?$/.test(written);
  const day = uncertain || more ? undefined : readDate(written, first ?? 'day');
  const hour = hourOf(parts?.[2], parts?.[5]);
  const [minute, second] = [Number(parts?.[3] ?? 0), Number(parts?.[4] ?? 0)];
  if (!day || day[0] < 1000 || (hour !== undefined && hour > 23) || minute > 59 || second > 59)
    throw new EncodeError(
      'character',
      `“${typed.slice(0, longest)}” could be more than one date, or is not a date.`,
      {
        mend: uncertain
          ? 'Choose in the stamp whether the day or the month comes first.'
          : 'Write it as 2026-11-23 or 2026-11-23 14:30.',
      },
    );
  if (hour === undefined) return { day };
  const offset = parts?.[6] ? minutesOf(parts[6]) : undefined;
  return { day, time: { hour, minute, second, offset } };
}

/**
 * The day of a date, YYYYMMDD, whatever time of day follows it.
 * @throws EncodeError in words
 */
export const calendarDay = (text: string, first: DateOrder): string =>
  readWritten(text, first).day.map(two).join('');

/**
 * A date, or a date and time, in the basic form of ISO 8601 (RFC 5545, 3.3.4 and 3.3.5). Ambiguous
 * dates are refused, unless the order is given.
 * @param zone IANA name of its time zone; with it, or with an offset in the text, the time is given
 *   in UTC. Without either it is the reader's local time
 * @throws EncodeError in words
 */
export function calendarTime(text: string, first: DateOrder, zone = ''): string {
  const { day, time } = readWritten(text, first);
  if (!time) return day.map(two).join('');
  const { hour, minute, second } = time;
  const offset = time.offset ?? (zone === '' ? undefined : offsetIn(zone, [...day, hour, minute]));
  const at = Date.UTC(day[0], day[1] - 1, day[2], hour, minute, second);
  const shown = new Date(at - (offset ?? 0) * 60_000).toISOString();
  return `${shown.slice(0, 19).replace(/[-:]/g, '')}${offset === undefined ? '' : 'Z'}`;
}

function hourOf(text: string | undefined, half: string | undefined): number | undefined {
  if (text === undefined) return undefined;
  const hour = Number(text);
  if (!half) return hour;
  // twelve comes before one
  return hour < 1 || hour > 12 ? 99 : (hour % 12) + (/p/i.test(half) ? 12 : 0);
}

const minutesOf = (offset: string): number => {
  if (/z/i.test(offset)) return 0;
  const [, sign, hours, minutes] = /^([+-])(\d\d):?(\d\d)$/.exec(offset)!;
  return (sign === '-' ? -1 : 1) * (Number(hours) * 60 + Number(minutes));
};

/** The offset of a zone from UTC at a local time, in minutes. */
function offsetIn(zone: string, [y, m, d, h, min]: number[]): number {
  const local = Date.UTC(y!, m! - 1, d, h, min);
  const ahead = (at: number): number => {
    const parts = new Intl.DateTimeFormat('en-GB', {
      timeZone: zone,
      hourCycle: 'h23',
      year: 'numeric',
      month: 'numeric',
      day: 'numeric',
      hour: 'numeric',
      minute: 'numeric',
    }).formatToParts(at);
    const n = (type: string) => Number(parts.find((p) => p.type === type)?.value);
    return (Date.UTC(n('year'), n('month') - 1, n('day'), n('hour'), n('minute')) - at) / 60_000;
  };
  // the first guess may lie on the other side of a change of the clocks
  return ahead(local - ahead(local) * 60_000);
}

/** Time zones that can be chosen, by their IANA names. */
export const timeZones: readonly string[] = Intl.supportedValuesOf('timeZone');
