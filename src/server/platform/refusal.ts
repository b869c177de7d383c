/** A request that cannot be met; the message is shown as it is. */
export class Refusal extends Error {
  override name = 'Refusal';
  constructor(
    message: string,
    readonly status = 400,
    /** What the interface needs to offer a way out. */
    readonly details: object = {},
  ) {
    super(message);
  }
}

/** A file that cannot be taken; the message is for the person who chose it and says what would help. */
export class IntakeError extends Error {
  override name = 'IntakeError';
}

/** A run that cannot be started; the message is for the coordinator. */
export class RunError extends Error {
  override name = 'RunError';
}
