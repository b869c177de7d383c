import { type TrayEntry } from '../../contract';
import { constants } from 'node:fs';
import { lstat, mkdir, open, readdir } from 'node:fs/promises';
import { basename, join, relative } from 'node:path';
import { folderRows, type FolderFile } from '../../core/records/folder';
import { mostBytes, tooLarge } from './files/book';
import { configuration, IntakeError, outFolderName, printedFolderName } from '../platform';

/**
 * The In-tray: a folder of this computer whose spreadsheets are read again when they are saved.
 * Undefined if there is none.
 */
export const trayFolder = (): string | undefined => configuration().HAND_STAMP_TRAY;

const spreadsheet = /\.(xlsx|xlsm|xls|ods|csv|tsv|txt)$/i;
/** Files that come and go while another is saved. */
export const passing = /^(\.|~\$)|\.(tmp|part|crdownload)$/i;

/** The contents of the In-tray: spreadsheets and folders, by name. */
export async function trayEntries(): Promise<TrayEntry[]> {
  const folder = trayFolder();
  if (!folder) return [];
  await mkdir(/* turbopackIgnore: true */ folder, { recursive: true });
  const entries = await readdir(/* turbopackIgnore: true */ folder, { withFileTypes: true });
  const shown = entries.filter(
    (e) =>
      !passing.test(e.name) &&
      e.name !== outFolderName &&
      e.name !== printedFolderName &&
      (e.isDirectory() || (e.isFile() && spreadsheet.test(e.name))),
  );
  return Promise.all(
    shown
      .sort((a, b) => (a.name < b.name ? -1 : 1))
      .map(async (e): Promise<TrayEntry> => {
        const { size, mtime } = await lstat(
          /* turbopackIgnore: true */ join(/* turbopackIgnore: true */ folder, e.name),
        );
        return {
          name: e.name,
          kind: e.isDirectory() ? 'folder' : 'file',
          size,
          changed: mtime.toISOString(),
        };
      }),
  );
}

/** How many files in the In-tray itself are not spreadsheets, such as PDFs. */
export async function trayOthers(): Promise<number> {
  const folder = trayFolder();
  if (!folder) return 0;
  const entries = await readdir(/* turbopackIgnore: true */ folder, { withFileTypes: true });
  return entries.filter((e) => e.isFile() && !passing.test(e.name) && !spreadsheet.test(e.name))
    .length;
}

const pdf = /\.pdf$/i;
const mostPdfs = 5000;

/** PDFs in the In-tray and in its folders, as paths from it. Links are not followed. */
export async function trayPdfs(): Promise<string[]> {
  const folder = trayFolder();
  if (!folder) return [];
  const found: string[] = [];
  const walk = async (at: string, deep: number): Promise<void> => {
    const entries = await readdir(/* turbopackIgnore: true */ at, { withFileTypes: true }).catch(
      () => [],
    );
    for (const entry of entries.sort((a, b) => (a.name < b.name ? -1 : 1))) {
      if (passing.test(entry.name) || found.length >= mostPdfs) continue;
      if (deep === 0 && (entry.name === outFolderName || entry.name === printedFolderName))
        continue;
      const path = join(/* turbopackIgnore: true */ at, entry.name);
      if (entry.isDirectory() && deep < 4) await walk(path, deep + 1);
      else if (entry.isFile() && pdf.test(entry.name))
        found.push(relative(folder, path).split('\\').join('/'));
    }
  };
  await walk(folder, 0);
  return found;
}

/** The bytes of a PDF in the In-tray, by its path; no other file. @throws IntakeError */
export async function trayPdf(path: string): Promise<Buffer> {
  if (!(await trayPdfs()).includes(path))
    throw new IntakeError(
      `${path} is no longer in the In-tray. Save it there again, or choose another file.`,
    );
  return bytesOfFile(path, join(/* turbopackIgnore: true */ trayFolder()!, path));
}

/** A path in the In-tray. @throws IntakeError for a name that would lead out of it */
function inTray(name: string): string {
  const folder = trayFolder();
  if (!folder)
    throw new IntakeError('This installation has no In-tray. Ask an administrator to set one up.');
  if (name === '' || name !== basename(name) || name === '..' || name === '.')
    throw new IntakeError(`${name} is not in the In-tray. Check its name.`);
  return join(/* turbopackIgnore: true */ folder, name);
}

/**
 * The bytes of a file in the In-tray. Links are not followed, since they may lead anywhere on the
 * computer, and it never waits for a pipe.
 * @throws IntakeError if it is not a file, is gone, or is too large
 */
export const trayFile = async (name: string): Promise<Buffer> => bytesOfFile(name, inTray(name));

/** The bytes of a scan in the In-tray's folder for printed sheets. @throws IntakeError */
export async function printedFile(name: string): Promise<Buffer> {
  const folder = inTray(printedFolderName);
  if (name === '' || name !== basename(name) || name === '..' || name === '.')
    throw new IntakeError(`${name} is not in the In-tray. Check its name.`);
  return bytesOfFile(name, join(/* turbopackIgnore: true */ folder, name));
}

async function bytesOfFile(name: string, path: string): Promise<Buffer> {
  const { O_RDONLY, O_NOFOLLOW, O_NONBLOCK } = constants;
  try {
    const file = await open(/* turbopackIgnore: true */ path, O_RDONLY | O_NOFOLLOW | O_NONBLOCK);
    try {
      const found = await file.stat();
      if (!found.isFile()) throw new IntakeError(noFile(name));
      if (found.size > mostBytes) throw tooLarge(name, found.size);
      return await file.readFile();
    } finally {
      await file.close();
    }
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code;
    if (error instanceof IntakeError || code === undefined) throw error;
    if (code === 'ENOENT')
      throw new IntakeError(
        `${name} is no longer in the In-tray. Save it there again, or choose another file.`,
      );
    throw new IntakeError(code === 'ELOOP' ? noFile(name) : `${name} cannot be opened (${code}).`);
  }
}

const noFile = (name: string) =>
  `${name} is not a file but a link to one. Put the file itself into the In-tray.`;

const mostFiles = 20_000;

/** A folder of the In-tray as rows, one per file. */
export async function trayFolderRows(name: string, base: string): Promise<string[][]> {
  const folder = inTray(name);
  const files: FolderFile[] = [];
  const walk = async (at: string): Promise<void> => {
    for (const entry of await readdir(/* turbopackIgnore: true */ at, { withFileTypes: true })) {
      if (files.length > mostFiles)
        throw new IntakeError(
          `${name} has more than ${mostFiles.toLocaleString('en')} files. Split it into several folders.`,
        );
      if (passing.test(entry.name)) continue;
      const path = join(/* turbopackIgnore: true */ at, entry.name);
      if (entry.isDirectory()) await walk(path);
      else if (entry.isFile()) {
        const { size, mtime } = await lstat(/* turbopackIgnore: true */ path);
        files.push({
          path: relative(folder, path).split('\\').join('/'),
          size,
          changed: mtime.toISOString(),
        });
      }
    }
  };
  const root = await lstat(/* turbopackIgnore: true */ folder).catch(() => undefined);
  if (root && !root.isDirectory()) throw new IntakeError(noFile(name));
  await walk(folder).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT')
      throw new IntakeError(
        `The folder ${name} is no longer in the In-tray. Create it there again, or choose another folder.`,
      );
    throw error;
  });
  return folderRows(files, base);
}
