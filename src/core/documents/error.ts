/** A document that cannot be taken, in words for whoever brought it. */
export class DocumentError extends Error {
  override name = 'DocumentError';
}

/** A PDF that opens only with a password; the given one, if any, is wrong. */
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
