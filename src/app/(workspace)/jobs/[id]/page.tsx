import { NoResultError } from 'kysely';
import { notFound } from 'next/navigation';
import { withoutKeys } from '@/server/access';
import { includes } from '@/core/access/rights';
import { database } from '@/server/platform';
import { ledgerRows, viewJob } from '@/server/jobs';
import { rowsInWindow, rowsQuerySchema } from '@/contract';
import { whereaboutsIn } from '@/ui/shell/ledger/address';
import { JobScreen } from '@/ui/features/job/job-screen';
import { viewQuery } from '@/ui/shell/ledger/view';
import { mayOf } from './may';

export const dynamic = 'force-dynamic';

export default async function Page({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Promise<Record<string, string | string[] | undefined>>;
}) {
  const asked = Object.entries(await searchParams).flatMap(([name, value]) =>
    typeof value === 'string' ? [[name, value]] : [],
  );
  const at = whereaboutsIn(new URLSearchParams(asked));
  const id = Number((await params).id);
  const may = await mayOf(id);
  // the first rows come with the page, so that a long list is there as soon as it is opened; after
  // what says whether they are complete
  const load = async () => {
    const job = await viewJob(database(), id, may);
    return {
      job: includes(may, 'editor') ? job : withoutKeys(job),
      rows: await ledgerRows(
        database(),
        id,
        rowsQuerySchema.parse({
          ...viewQuery(at.view),
          limit: rowsInWindow,
        }),
        may,
      ),
    };
  };
  const { job, rows } = await load().catch((error: unknown) => {
    if (error instanceof NoResultError) notFound();
    throw error;
  });
  return <JobScreen key={id} initial={job} firstRows={rows} at={at} />;
}
