import { guidePages } from '@/server/guide';
import { GuideStart } from '@/ui/features/help/help-page';

export const metadata = { title: 'Guide · Hand Stamp' };

export default function Page() {
  return <GuideStart pages={guidePages().map(({ id, title, about }) => ({ id, title, about }))} />;
}
