import type { OutputDescription } from './output';

export const html: OutputDescription = {
  id: 'html',
  name: 'a page with all codes',
  about:
    'One HTML file that holds everything it shows. For looking through, and for sending round.',
  noun: ['code', 'codes'],
};
