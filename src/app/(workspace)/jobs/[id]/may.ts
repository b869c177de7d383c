import { headers } from 'next/headers';
import { notFound, redirect } from 'next/navigation';
import { cache } from 'react';
import { includes, type Right } from '@/core/access/rights';
import { rightOver, whoAsks } from '@/server/access';
import { jobIsThere } from '@/server/jobs';
import { database } from '@/server/platform';

/**
 * The right of the person to a job, asked once for a page and its layout. A job that does not
 * exist, or is not theirs, gets the same “not found” page, so that its existence is not revealed.
 */
export const mayOf = cache(async (id: number): Promise<Right> => {
  if (!Number.isInteger(id) || id < 1 || id > 2 ** 31 - 1) notFound();
  const person = await whoAsks(database(), await headers());
  if (!person) redirect('/sign-in');
  const may = await rightOver(database(), person, 'job', id);
  if (!includes(may, 'viewer') || !(await jobIsThere(database(), id))) notFound();
  return may;
});
