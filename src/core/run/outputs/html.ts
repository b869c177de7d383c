import type { OutputDescription } from './description';

export const html = {
  id: 'html',
  name: 'a page with all codes',
  about:
    'One HTML file that holds everything it shows. For looking through, and for sending round.',
  noun: ['code', 'codes'],
} as const satisfies OutputDescription;
