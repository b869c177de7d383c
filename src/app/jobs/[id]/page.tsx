import { NoResultError } from 'kysely';
import { notFound } from 'next/navigation';
import { database } from '@/server/db';
import { viewJob } from '@/server/jobs';
import { bands } from '@/core/job/views';
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
  const job = await viewJob(database(), id).catch((error: unknown) => {
    if (error instanceof NoResultError) notFound();
    throw error;
  });
  return <JobScreen key={id} initial={job} openOn={bands.find((b) => b === band)} />;
}
