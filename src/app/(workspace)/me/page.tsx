import { MyPage } from '@/ui/features/people/my-page';

export default function Page() {
  return <MyPage />;
}
