import { JournalPage } from '@/ui/features/people/journal-page';

export default function Page() {
  return <JournalPage />;
}
