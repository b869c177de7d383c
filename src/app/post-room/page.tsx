import { PostRoom } from '@/ui/post-room/post-room';

export default function Page() {
  return <PostRoom />;
}
