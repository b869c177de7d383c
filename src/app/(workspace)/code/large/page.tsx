import { LargeCode } from '@/ui/features/one-code/large-code';

export default function Page() {
  return <LargeCode />;
}
