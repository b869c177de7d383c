import { ListsPage } from '@/ui/lists-page';

export default function Page() {
  return <ListsPage />;
}
