import { trimmedEnd } from '../base/trim';

export interface FolderFile {
  /** From the folder on, parts divided by `/`. */
  path: string;
  /** Bytes. */
  size: number;
  /** ISO 8601, or empty. */
  changed: string;
}

/**
 * A folder of files as rows: one record per file with its title and its address. Hidden files are
 * left out.
 * @param base web address of the folder; without it there is no address
 */
export function folderRows(files: readonly FolderFile[], base: string): string[][] {
  const shown = files
    .filter((f) => !f.path.split('/').some((part) => part.startsWith('.') || part.startsWith('~$')))
    .sort((a, b) => (a.path < b.path ? -1 : 1));
  const root = trimmedEnd(base.trim(), '/');
  return [
    ['File', 'Title', 'Folder', 'Address', 'Size in bytes', 'Changed'],
    ...shown.map(({ path, size, changed }) => {
      const parts = path.split('/');
      const name = parts.at(-1)!;
      const title = name
        .replace(/\.[^.]+$/, '')
        .replace(/[-_]+/g, ' ')
        .trim();
      const address = root ? `${root}/${parts.map(encodeURIComponent).join('/')}` : '';
      return [
        path,
        title || name,
        parts.slice(0, -1).join('/'),
        address,
        String(size),
        changed.slice(0, 10),
      ];
    }),
  ];
}
