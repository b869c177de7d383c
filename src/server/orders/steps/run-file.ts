import { readFilePieces } from '../../platform';
import { type Situation, StepTrouble } from './step';

/** The file that a run made. @throws StepTrouble where it is too large or gone */
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
  if (!file) throw new StepTrouble('The file that was made is not kept any more.');
  if (file.size > most)
    throw new StepTrouble(`${file.name} is larger than ${Math.round(most / 2 ** 20)} MB.`);
  const parts: Uint8Array[] = [];
  for await (const part of readFilePieces(db, file.id)) parts.push(part);
  return { name: file.name, bytes: Buffer.concat(parts) };
}
