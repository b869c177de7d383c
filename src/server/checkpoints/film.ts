import { contentOf } from '../../core/payload/stamp';
import { type Database, isDemo, Refusal } from '../platform';
import { checkpointAt, eachRecord } from './rows';

/** Codes on a film. */
const most = 14;

/**
 * The film that stands in for a camera: codes of the checkpoint's own records, from all through its
 * lists, one of them twice, and one of no record.
 * @throws Refusal 404 outside the demo: devices must not get codes
 */
export async function filmFor(db: Database, checkpoint: number): Promise<string[]> {
  if (!(await isDemo(db))) throw new Refusal('There is no film. Make one first.', 404);
  const all: string[] = [];
  for (const { id, stamps } of (await checkpointAt(db, checkpoint)).taken)
    await eachRecord(db, id, (_, values) => {
      const content = stamps[0] && contentOf(stamps[0], values);
      if (content?.state === 'said') all.push(content.payload);
    });
  const step = Math.max(1, Math.floor(all.length / most));
  const codes = all.filter((_, n) => n % step === step - 1).slice(0, most);
  const [first] = codes;
  if (first === undefined)
    throw new Refusal(
      'No record of this checkpoint has a code that can be filmed. Add records with codes to its list.',
    );
  return [...codes.slice(0, 3), first, ...codes.slice(3), 'https://marrambay.example/map'];
}
