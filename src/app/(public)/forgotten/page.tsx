import { Forgotten } from '@/ui/features/sign-in/forgotten';

export default function Page() {
  return <Forgotten />;
}
