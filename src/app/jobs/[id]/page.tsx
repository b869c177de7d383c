import { NoResultError } from 'kysely';
import { notFound } from 'next/navigation';
import { database } from '@/server/db';
import { ledgerRows, rowsQuerySchema, viewJob } from '@/server/jobs';
import { bands, rowsInWindow } from '@/core/job/views';
import { JobScreen } from '@/ui/ledger/job-screen';

export const dynamic = 'force-dynamic';

export default async function Page({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ band?: string }>;
}) {
  const { band } = await searchParams;
  const id = Number((await params).id);
  if (!Number.isInteger(id) || id < 1 || id > 2 ** 31 - 1) notFound();
  // the first rows come with the page, so that a long list is there as soon as it is opened; after what says whether they are complete
  const load = async () => {
    const job = await viewJob(database(), id);
    return { job, rows: await ledgerRows(database(), id, rowsQuerySchema.parse({ limit: rowsInWindow })) };
  };
  const { job, rows } = await load().catch((error: unknown) => {
    if (error instanceof NoResultError) notFound();
    throw error;
  });
  return <JobScreen key={id} initial={job} firstRows={rows} openOn={bands.find((b) => b === band)} />;
}
