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
