import { body, numberParam, route } from '@/server/platform';
import { previewSchema, previewWorked } from '@/server/lists';

export const POST = route(async (asked) =>
  previewWorked(asked.db, numberParam(asked), await body(asked, previewSchema)),
);
