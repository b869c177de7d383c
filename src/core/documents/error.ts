/** A document that cannot be taken, in words for whoever brought it. */
export class DocumentError extends Error {
  override name = 'DocumentError';
}
