import { sql } from 'kysely';
import type { SymbologyFit } from '../../contract';
import { mendsFor } from '../../core/payload/misfit-mends';
import { purposeOf } from '../../core/payload/purposes';
import {
  columnsOf,
  contentOf,
  encodeOptionsOf,
  stampFit,
  type Stamp,
} from '../../core/payload/stamp';
import type { Values } from '../../core/records/columns';
import { symbologies, symbologyIds, usualSymbology } from '../../core/symbology';
import { breather, type Database } from '../platform';
import { stampOf } from './stamps';

/** Lists longer than this are judged by a sample spread evenly over them. */
const most = 3000;
/** Most letters that are tried in every symbology; of a list with more, fewer records are. */
const mostLetters = 300_000;

/** For each code type: how many records fit, and for the others the first reason and its fix. */
export async function symbologyFits(
  db: Database,
  jobId: number,
  stampId: string,
): Promise<{ fits: SymbologyFit[]; looked: number; of: number }> {
  const { stamp, listId } = await stampOf(db, jobId, stampId);
  const { of } = await db
    .selectFrom('records')
    .select((e) => e.fn.countAll<number>().as('of'))
    .where('list_id', '=', listId)
    .executeTakeFirstOrThrow();
  const step = Math.max(1, Math.ceil(of / most));
  const sample = await db
    .selectFrom('records')
    .select('values')
    .where('list_id', '=', listId)
    .where(sql<boolean>`position % ${step} = 0`)
    .execute();
  const letters = sample.reduce((sum, { values }) => sum + saysLetters(stamp, values), 0);
  const every = Math.max(1, Math.ceil(letters / mostLetters));
  const records = sample.filter((_, i) => i % every === 0);
  const said = (own: Stamp, values: Values) => {
    const content = contentOf(own, values);
    return content.state === 'said' ? [content.payload] : [];
  };
  const looked = records.flatMap(({ values }) => said(stamp, values)).length;
  const breathe = breather();
  // only if the code contains the values themselves is it clear what changing them means
  const plain = purposeOf(stamp.does).asItIs;
  const values = () =>
    // the values as they are, before a symbology has added anything to them
    records.flatMap(({ values: of }) => said({ ...stamp, symbology: usualSymbology }, of));
  let mends: ReturnType<typeof mendsFor> | undefined;
  const fits: SymbologyFit[] = [];
  for (const id of symbologyIds) {
    const own = { ...stamp, symbology: id };
    let misfits = 0;
    let reason: string | undefined;
    let mend: string | undefined;
    for (const { values } of records) {
      await breathe();
      for (const payload of said(own, values)) {
        const fit = stampFit(own, payload);
        if (fit.fits) continue;
        misfits++;
        reason ??= fit.reason;
        mend ??= fit.mend;
      }
    }
    const mended =
      misfits > 0 && plain ? (mends ??= mendsFor(values()))(id, encodeOptionsOf(stamp)) : undefined;
    const steps = mended && { steps: mended.steps, left: mended.misfits };
    const { name, about } = symbologies[id];
    fits.push({ id, name, about, misfits, reason, mend, ...steps });
  }
  return { fits, looked, of };
}

/** About how many letters a stamp's code says for a record. */
const saysLetters = (stamp: Stamp, values: Values): number =>
  columnsOf(stamp).reduce((sum, id) => sum + (values[id] ?? '').length, 0);
