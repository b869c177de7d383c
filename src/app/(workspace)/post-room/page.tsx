import { PostRoom } from '@/ui/features/post-room/post-room';

export default function Page() {
  return <PostRoom />;
}
