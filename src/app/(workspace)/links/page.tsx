import { LinksPage } from '@/ui/features/links/links-page';

export default function Page() {
  return <LinksPage />;
}
