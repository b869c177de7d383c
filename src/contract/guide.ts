import * as z from 'zod';
import { defineRoute } from './route';

export const guideHitSchema = z.strictObject({
  page: z.string(),
  title: z.string(),
  heading: z.string(),
  /** Of the heading, in the address; empty for the start of the page. */
  anchor: z.string(),
  start: z.string(),
});
export type GuideHit = z.infer<typeof guideHitSchema>;

export const searchGuide = defineRoute({
  method: 'GET',
  path: '/api/guide/search',
  right: 'signed-in',
  about: 'The parts of the guide that contain all the words, best first.',
  query: z.object({ q: z.string().max(200) }),
  answer: z.strictObject({ hits: z.array(guideHitSchema) }),
});
export const guidePicture = defineRoute({
  method: 'GET',
  path: '/api/guide/pictures/{name}',
  right: 'signed-in',
  about: 'A picture of the guide.',
  params: z.object({ name: z.string().max(80) }),
  answer: { files: ['image/png'] },
});
