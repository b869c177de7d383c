import { OneCode } from '@/ui/features/one-code/one-code';

export default function Page() {
  return <OneCode />;
}
