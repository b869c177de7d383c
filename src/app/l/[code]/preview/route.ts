import { previewLink } from '@/contract';
import { handle } from '@/server/access';
import { linksHandlers } from '@/server/links/handlers';

export const GET = handle(previewLink, linksHandlers.previewLink);
