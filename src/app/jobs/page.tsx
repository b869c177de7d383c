import type { Metadata } from 'next';
import { JobsPage } from '@/ui/jobs-page';

export const metadata: Metadata = { title: 'Jobs · Hand Stamp' };

export default function Page() {
  return <JobsPage />;
}
