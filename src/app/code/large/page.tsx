import { LargeCode } from '@/ui/one-code/large-code';

export default function Page() {
  return <LargeCode />;
}
