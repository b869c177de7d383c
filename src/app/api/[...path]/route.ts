import { answer } from '@/server/routes';

export {
  answer as DELETE,
  answer as GET,
  answer as OPTIONS,
  answer as PATCH,
  answer as POST,
  answer as PUT,
};
