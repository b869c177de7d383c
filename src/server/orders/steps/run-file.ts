import { unzipSync } from 'fflate';
import { readFilePieces } from '../../platform';
import { type Situation, StepTrouble } from './step';

/** The file of a run. @throws StepTrouble if it is too large or was deleted */
export async function runFile(
  { db }: Pick<Situation, 'db'>,
  run: number,
  most: number,
): Promise<{ name: string; bytes: Buffer }> {
  const file = await db
    .selectFrom('files')
    .select(['id', 'name', 'size'])
    .where('run_id', '=', run)
    .orderBy('id')
    .executeTakeFirst();
  if (!file) throw new StepTrouble('The file is no longer kept.');
  if (file.size > most)
    throw new StepTrouble(`${file.name} is larger than ${Math.round(most / 2 ** 20)} MB.`);
  const parts: Uint8Array[] = [];
  for await (const part of readFilePieces(db, file.id)) parts.push(part);
  return theOneIn({ name: file.name, bytes: Buffer.concat(parts) });
}

/** The contents of a ZIP with one document: nobody wants to unpack one PDF. */
function theOneIn(file: { name: string; bytes: Buffer }): { name: string; bytes: Buffer } {
  if (!/\.zip$/i.test(file.name)) return file;
  const names: string[] = [];
  unzipSync(file.bytes, { filter: ({ name }) => (names.push(name), false) });
  const [only, ...others] = names.filter((name) => !name.endsWith('/') && name !== 'list.csv');
  if (only === undefined || others.length > 0) return file;
  const bytes = unzipSync(file.bytes, { filter: ({ name }) => name === only })[only]!;
  return { name: only.split('/').at(-1)!, bytes: Buffer.from(bytes) };
}
