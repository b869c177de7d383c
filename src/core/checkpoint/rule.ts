import * as z from 'zod';
import type { Column, Values } from '../records/columns';

/** A condition on a column of the record. */
const holdSchema = z.object({
  column: z.string().max(40),
  is: z.enum(['is', 'is-not', 'blank', 'filled', 'session']),
  value: z.string().max(300).default(''),
});
export type Hold = z.infer<typeof holdSchema>;

/** A list whose codes are taken. */
const takeSchema = z.object({
  list: z.number().int().min(1),
  /** Ids of its stamps; none for all of them. */
  stamps: z.array(z.string().max(40)).max(8),
  /** Only codes that carry a proof of genuineness are taken. */
  genuine: z.boolean(),
  holds: z.array(holdSchema).max(6),
  /** Columns that are shown of a record. */
  shows: z.array(z.string().max(40)).max(6),
});
export type Take = z.infer<typeof takeSchema>;

const instant = z.iso.datetime({ offset: true });
const sessionName = z.string().trim().min(1, 'Enter a name for the session.').max(80);
const sessionsSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('none') }),
  /** A person chooses the current one. */
  z.object({
    kind: z.literal('hand'),
    names: z.array(sessionName).min(1).max(40),
    now: sessionName,
  }),
  /**
   * The values of a column of the first list are the sessions; a person chooses the current one.
   */
  z.object({
    kind: z.literal('column'),
    column: z.string().max(40),
    now: sessionName,
    /** People of another session may come in, too. */
    all: z.boolean().optional(),
  }),
  z.object({
    kind: z.literal('time'),
    spans: z
      .array(z.object({ name: sessionName, from: instant, until: instant }))
      .min(1)
      .max(40),
  }),
]);
export type Sessions = z.infer<typeof sessionsSchema>;

const oftens = ['any', 'once', 'each-session'] as const;

/** The rule of a checkpoint, without its name. */
export const ruleSchema = z.object({
  takes: z.array(takeSchema).min(1).max(6),
  often: z.enum(oftens),
  session: sessionsSchema,
  /** From when until when codes pass; null for always. */
  opens: instant.nullable(),
  ends: instant.nullable(),
});
export type Rule = z.infer<typeof ruleSchema>;

/**
 * A condition on a record for its code to be let in. If the sessions are the values of a column, a
 * record may enter its own, unless the rule lets in all.
 */
export function holdsOf({ session, takes }: Pick<Rule, 'session' | 'takes'>, take: Take): Hold[] {
  const own =
    session.kind === 'column' &&
    session.all !== true &&
    take.list === takes[0]?.list &&
    !take.holds.some((hold) => hold.is === 'session');
  return own ? [...take.holds, { column: session.column, is: 'session', value: '' }] : take.holds;
}

/** The session at a time; null if there is none. @param now in ms since 1970 */
export function sessionAt(sessions: Sessions, now: number): string | null {
  if (sessions.kind === 'none') return null;
  if (sessions.kind !== 'time') return sessions.now;
  return (
    sessions.spans.find(({ from, until }) => Date.parse(from) <= now && now < Date.parse(until))
      ?.name ?? null
  );
}

const same = (a: string, b: string): boolean =>
  a.trim().toLocaleLowerCase() === b.trim().toLocaleLowerCase();

/**
 * Several values in a cell, such as the shifts of one person, are separated by a comma, a
 * semicolon, a slash or a line end.
 */
export const valuesIn = (cell: string): string[] =>
  cell
    .split(/[,;/\n]/)
    .map((value) => value.trim())
    .filter(Boolean);

export interface Failing {
  hold: Hold;
  /** In words, with the column by its name. */
  words: string;
}

/** The first of the conditions that does not hold of a record, in words; undefined where all do. */
export function failing(
  holds: readonly Hold[],
  values: Values,
  columns: readonly Column[],
  session: string | null,
): Failing | undefined {
  for (const hold of holds) {
    const name = columns.find((c) => c.id === hold.column)?.name ?? 'a deleted column';
    const value = (values[hold.column] ?? '').trim();
    const words = heldWords(hold, name, value, session);
    if (words) return { hold, words };
  }
  return undefined;
}

function heldWords(
  { is, value: wanted }: Hold,
  name: string,
  value: string,
  session: string | null,
): string | undefined {
  switch (is) {
    case 'is':
      return same(value, wanted)
        ? undefined
        : value === ''
          ? `its ${name} is blank`
          : `its ${name} is ${value}, not ${wanted}`;
    case 'is-not':
      return same(value, wanted) ? `its ${name} is ${value}` : undefined;
    case 'blank':
      return value === '' ? undefined : `its ${name} is ${value}`;
    case 'filled':
      return value === '' ? `its ${name} is blank` : undefined;
    case 'session':
      if (session === null) return 'no session is on now';
      return same(value, session) || valuesIn(value).some((one) => same(one, session))
        ? undefined
        : value === ''
          ? `its ${name} is blank`
          : `its ${name} is ${value}`;
  }
}
