/**
 * What a picture is found by: an address as it is, a file by its name without folders, either
 * without regard to case.
 */
export const pictureKey = (name: string): string =>
  (/^https?:/i.test(name) ? name : name.split(/[\\/]/).at(-1)!).trim().toLowerCase();
