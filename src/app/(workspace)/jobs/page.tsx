import type { Metadata } from 'next';
import { JobsPage } from '@/ui/features/jobs/jobs-page';

export const metadata: Metadata = { title: 'Jobs · Hand Stamp' };

export default function Page() {
  return <JobsPage />;
}
