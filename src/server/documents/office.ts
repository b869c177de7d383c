import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { lstat, mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { delimiter, join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { harmlessEnvironment, RunError } from '../platform';

/** The program that makes PDFs of documents, and the package that installs it. */
export const officePackage = 'libreoffice-writer-nogui';
const program = (): string | undefined =>
  (process.env.PATH ?? '')
    .split(delimiter)
    .map((folder) => join(folder, 'soffice'))
    .find(existsSync);

export const hasOffice = (): boolean => program() !== undefined;

/** In ms: to start, for each document, and for each picture of a code beyond the first. */
const startLimit = 60_000;
const eachLimit = 5_000;
const codeLimit = 200;

/** Which format is made from which, and LibreOffice's name for it. */
const conversions = {
  'docx to pdf': { from: 'docx', to: 'pdf', filter: 'pdf:writer_pdf_Export', reader: [] },
  'html to pdf': {
    from: 'html',
    to: 'pdf',
    filter: 'pdf:writer_pdf_Export',
    reader: ['--infilter=HTML (StarWriter)'],
  },
  'html to docx': {
    from: 'html',
    to: 'docx',
    filter: 'docx:Office Open XML Text',
    reader: ['--infilter=HTML (StarWriter)'],
  },
} as const;
export type Conversion = keyof typeof conversions;

/**
 * How working folders begin, and the age in ms after which none is in use any more: no part of a
 * run takes so long.
 */
const folderName = 'hand-stamp-documents-';
const leftAfter = 2 * 60 * 60_000;

/** Removes the folders of processes that were killed while they made documents. */
export async function sweepFolders(): Promise<void> {
  for (const name of await readdir(tmpdir()))
    if (name.startsWith(folderName)) {
      const path = join(tmpdir(), name);
      const found = await lstat(path).catch(() => undefined);
      // eslint-disable-next-line no-restricted-syntax -- a file’s age goes by the machine’s clock
      if (found?.isDirectory() && Date.now() - found.mtimeMs > leftAfter)
        await rm(path, { recursive: true, force: true }).catch(() => undefined);
    }
}

/**
 * Makes a PDF or a DOCX of each document, in a process of its own with a temporary profile. If it
 * hangs, it is killed with everything it started.
 * @param codes in all of them together
 * @param limit in ms, after which it is killed
 * @throws RunError in words
 */
export async function converted(
  documents: readonly Uint8Array[],
  conversion: Conversion,
  codes = documents.length,
  limit = startLimit + eachLimit * documents.length + codeLimit * codes,
): Promise<Uint8Array[]> {
  const { from, to } = conversions[conversion];
  const office = program();
  if (!office)
    throw new RunError(
      `To make a ${to.toUpperCase()} from a document, Hand Stamp needs LibreOffice, which is not installed. Ask an administrator to install ${officePackage}.`,
    );
  const folder = await mkdtemp(join(tmpdir(), folderName));
  try {
    const names = documents.map((_, i) => join(/* turbopackIgnore: true */ folder, `${i}.${from}`));
    await Promise.all(documents.map((bytes, i) => writeFile(names[i]!, bytes)));
    await run(office, folder, names, conversion, limit);
    return await Promise.all(
      documents.map((_, i) =>
        readFile(join(/* turbopackIgnore: true */ folder, `${i}.${to}`)).catch(() => {
          throw new RunError(
            `LibreOffice could not make a ${to.toUpperCase()} from one of the documents. Open the document and save it again, then try again.`,
          );
        }),
      ),
    );
  } finally {
    await rm(folder, { recursive: true, force: true, maxRetries: 3 });
  }
}

function run(
  office: string,
  folder: string,
  names: readonly string[],
  conversion: Conversion,
  limit: number,
): Promise<void> {
  const { filter, reader } = conversions[conversion];
  const profile = pathToFileURL(join(folder, 'profile')).href;
  const child = spawn(
    office,
    [
      `-env:UserInstallation=${profile}`,
      '--headless',
      '--norestore',
      '--nolockcheck',
      ...reader,
      '--convert-to',
      filter,
      '--outdir',
      folder,
      ...names,
    ],
    {
      cwd: folder,
      stdio: 'ignore',
      detached: true,
      env: { ...harmlessEnvironment(), HOME: folder },
    },
  );
  return new Promise((resolve, reject) => {
    let late = false;
    const end = () => {
      try {
        if (child.pid) process.kill(-child.pid, 'SIGKILL');
      } catch {
        // it has ended by itself
      }
    };
    const timer = setTimeout(() => {
      late = true;
      end();
    }, limit);
    child.once('error', (error) => {
      clearTimeout(timer);
      reject(error);
    });
    child.once('exit', () => {
      clearTimeout(timer);
      end();
      if (late)
        reject(
          new RunError(
            `LibreOffice did not finish within ${Math.round(limit / 1000)} s and was stopped. Choose fewer records, or check the document.`,
          ),
        );
      else resolve();
    });
  });
}
