import { body, numberParam, route } from '@/server/http';
import { previewSchema, previewWorked } from '@/server/worked-preview';

export const POST = route(async (asked) => previewWorked(asked.db, numberParam(asked), await body(asked, previewSchema)));
