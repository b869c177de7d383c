import { body, numberParam, route } from '@/server/platform/http';
import { previewSchema, previewWorked } from '@/server/lists/worked-preview';

export const POST = route(async (asked) => previewWorked(asked.db, numberParam(asked), await body(asked, previewSchema)));
