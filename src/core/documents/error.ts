/** A document that cannot be taken, in words for whoever brought it. */
export class DocumentError extends Error {
  override name = 'DocumentError';
}

/** A PDF that opens with a password only; what was given, if anything, is not it. */
export class LockedError extends DocumentError {
  override name = 'LockedError';
  constructor(given: boolean) {
    super(
      given
        ? 'This PDF is locked, and the password is wrong. Type it again.'
        : 'This PDF is locked. Enter its password to change it.',
    );
  }
}
