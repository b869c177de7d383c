import { ListsPage } from '@/ui/features/lists/lists-page';

export default function Page() {
  return <ListsPage />;
}
