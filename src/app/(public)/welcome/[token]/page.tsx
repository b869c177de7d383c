import { Welcome } from '@/ui/features/sign-in/welcome';

export default async function Page({ params }: { params: Promise<{ token: string }> }) {
  return <Welcome token={(await params).token} />;
}
