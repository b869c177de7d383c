import { sql } from 'kysely';
import type { SymbologyFit } from '../../contract';
import { misfitMend } from '../../core/payload/misfit-mends';
import { purposeOf } from '../../core/payload/purposes';
import { contentOf, encodeOptionsOf, stampFit } from '../../core/payload/stamp';
import { symbologies, symbologyIds, type SymbologyId } from '../../core/symbology';
import type { Database } from '../platform';
import { stampOf } from './stamps';

/** Lists longer than this are judged by a sample spread evenly over them. */
const most = 3000;

/**
 * For each symbology: how many records' content it can say, and for the rest the first reason and
 * its mend.
 */
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
  const records = await db
    .selectFrom('records')
    .select('values')
    .where('list_id', '=', listId)
    .where(sql<boolean>`position % ${step} = 0`)
    .execute();
  const said = (id: SymbologyId) =>
    records.flatMap(({ values }) => {
      const content = contentOf({ ...stamp, symbology: id }, values);
      return content.state === 'said' ? [content.payload] : [];
    });
  const looked = said(stamp.symbology).length;
  // only where the code says the values themselves would changing them be understood
  const plain = purposeOf(stamp.does).asItIs;
  const fits = symbologyIds.map((id): SymbologyFit => {
    let misfits = 0;
    let reason: string | undefined;
    let mend: string | undefined;
    // what a product says differs between symbologies, all else says the same in each
    const payloads = said(id);
    for (const payload of payloads) {
      const fit = stampFit({ ...stamp, symbology: id }, payload);
      if (fit.fits) continue;
      misfits++;
      reason ??= fit.reason;
      mend ??= fit.mend;
    }
    const mended =
      misfits > 0 && plain ? misfitMend(id, payloads, encodeOptionsOf(stamp)) : undefined;
    const steps = mended && { steps: mended.steps, left: mended.misfits };
    return {
      id,
      name: symbologies[id].name,
      about: symbologies[id].about,
      misfits,
      reason,
      mend,
      ...steps,
    };
  });
  return { fits, looked, of };
}
