import { PeoplePage } from '@/ui/features/people/people-page';

export default function Page() {
  return <PeoplePage />;
}
