/**
 * Whether something is an error of a class, for `instanceof`. Next.js bundles routes, pages, the
 * proxy and error handlers separately, each with a copy of this file. So an error is recognized by
 * its name, not by the copy of its class; subclasses, which no other copy throws, work as usual.
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
    /** Data with which the interface can offer a way out. */
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
 * The words of an error for people, if it is one that another try cannot change. Undefined for all
 * others, which may pass.
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
