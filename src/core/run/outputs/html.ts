import type { OutputDescription } from './description';

export const html = {
  id: 'html',
  name: 'a page with all codes',
  about: 'One HTML file that contains everything it shows. For checking, and for sending around.',
  noun: ['code', 'codes'],
} as const satisfies OutputDescription;
