import { headers } from 'next/headers';
import { redirect } from 'next/navigation';
import { seenBy, whoAsks } from '@/server/access';
import { includes } from '@/core/access/rights';
import { latestJob } from '@/server/jobs';
import { database } from '@/server/platform';

export const dynamic = 'force-dynamic';

/** Opens the job that was changed last, of those that the person may see. */
export default async function Home() {
  const db = database();
  const person = await whoAsks(db, await headers());
  if (!person) redirect('/sign-in');
  const seen = await seenBy(db, person);
  const job = await latestJob(db, seen?.jobs);
  redirect(job ? `/jobs/${job}` : includes(person.right, 'editor') ? '/bring-in' : '/jobs');
}
