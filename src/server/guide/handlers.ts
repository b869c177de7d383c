import type { Handlers } from '../access';
import { Refusal } from '../platform';
import { guidePicture, searchGuide } from './pages';

/** The handlers of this module, by route. */
export const guideHandlers = {
  searchGuide: async ({ query }) => ({ hits: searchGuide(query.q) }),

  guidePicture: async ({ params }) => {
    const picture = guidePicture(params.name);
    if (!picture) throw new Refusal('The guide has no picture of this name.', 404);
    return new Response(Uint8Array.from(picture), {
      headers: { 'content-type': 'image/png', 'cache-control': 'private, max-age=3600' },
    });
  },
} satisfies Partial<Handlers>;
