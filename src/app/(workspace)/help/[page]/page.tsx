import { notFound } from 'next/navigation';
import { guidePage, guidePages } from '@/server/guide';
import { GuideArticle } from '@/ui/features/help/help-page';

interface Given {
  params: Promise<{ page: string }>;
}

export async function generateMetadata({ params }: Given) {
  return { title: guidePage((await params).page)?.title ?? 'Guide' };
}

export default async function Page({ params }: Given) {
  const page = guidePage((await params).page);
  if (!page) notFound();
  const { id, title, html, headings } = page;
  return (
    <GuideArticle
      pages={guidePages().map((p) => ({ id: p.id, title: p.title, about: p.about }))}
      page={{ id, title, html, headings }}
    />
  );
}
