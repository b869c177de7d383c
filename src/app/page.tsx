import { redirect } from 'next/navigation';
import { database } from '@/server/platform';

export const dynamic = 'force-dynamic';

/** Opens where work was left: the job changed last. */
export default async function Home() {
  const job = await database()
    .selectFrom('jobs')
    .select('id')
    .orderBy('updated_at', 'desc')
    .orderBy('id', 'desc')
    .limit(1)
    .executeTakeFirst();
  redirect(job ? `/jobs/${job.id}` : '/bring-in');
}
