/**
 * The form in which pictures are looked up: an address as it is, a file by its name without
 * folders; both without case.
 */
export const pictureKey = (name: string): string =>
  (/^https?:/i.test(name) ? name : name.split(/[\\/]/).at(-1)!).trim().toLowerCase();
