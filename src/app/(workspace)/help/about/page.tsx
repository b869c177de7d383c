import { guidePages, licencesHtml, version } from '@/server/guide';
import { About } from '@/ui/features/help/help-page';

export const metadata = { title: 'About · Hand Stamp' };

export default function Page() {
  return (
    <About
      pages={guidePages().map(({ id, title, about }) => ({ id, title, about }))}
      version={version()}
      licences={licencesHtml()}
    />
  );
}
