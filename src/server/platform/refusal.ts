/**
 * Whether something is an error of a class, for `instanceof`. Next.js bundles routes, pages, the
 * proxy and what looks after errors apart, each with a copy of this file, and some of what they use
 * is one for the whole process. So an error is known by its name and not by the copy of its class;
 * one of a class below, which no other copy throws, as always.
 */
export const isOf = (asked: unknown, own: unknown, name: string, value: unknown): boolean =>
  asked === own
    ? value instanceof Error && value.name === name
    : Function.prototype[Symbol.hasInstance].call(asked, value);

/** A request that cannot be met; the message is shown as it is. */
export class Refusal extends Error {
  override name = 'Refusal';
  static override [Symbol.hasInstance](this: unknown, value: unknown): boolean {
    return isOf(this, Refusal, 'Refusal', value);
  }
  constructor(
    message: string,
    readonly status = 400,
    /** What the interface needs to offer a way out. */
    readonly details: object = {},
  ) {
    super(message);
  }
}

/**
 * A file that cannot be taken; the message is for the person who chose it and says what would help.
 */
export class IntakeError extends Error {
  override name = 'IntakeError';
  static override [Symbol.hasInstance](this: unknown, value: unknown): boolean {
    return isOf(this, IntakeError, 'IntakeError', value);
  }
}

/**
 * The words of an error for people, where it is one that no further try can change: what was asked
 * for cannot be done. Undefined for all others, which may pass by themselves.
 */
export function finalWords(error: unknown): string | undefined {
  if (!(error instanceof Error)) return undefined;
  if (error.name === 'Refusal') {
    const { status } = error as Refusal;
    return status < 500 && status !== 429 ? error.message : undefined;
  }
  return finalNames.includes(error.name) ? error.message : undefined;
}
const finalNames = ['RunError', 'IntakeError', 'EncodeError', 'DocumentError', 'LockedError'];

/** A run that cannot be started; the message is for the coordinator. */
export class RunError extends Error {
  override name = 'RunError';
  static override [Symbol.hasInstance](this: unknown, value: unknown): boolean {
    return isOf(this, RunError, 'RunError', value);
  }
}
