import type { OutputDescription } from './description';

export const images = {
  id: 'images',
  name: 'a picture of each code',
  about:
    'In one ZIP file, each named from a column. For web pages, apps and other people’s designs.',
  noun: ['picture', 'pictures'],
  named: true,
  zipped: true,
  choices: ['image', 'name'],
} as const satisfies OutputDescription;
