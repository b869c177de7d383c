import { expect, test } from 'vitest';
import { wayOn } from '../../../src/ui/features/sign-in/door';

const origin = 'https://stamp.example';
const on = (to: string) => wayOn(`?to=${encodeURIComponent(to)}`, origin);

test('whoever signed in goes on where they wanted to, on this site only', () => {
  expect(on('/jobs/4?record=2')).toBe(`${origin}/jobs/4?record=2`);
  expect(wayOn('', origin)).toBe(`${origin}/`);
  for (const away of [
    '/.//host.example',
    '//host.example',
    '/\\host.example',
    'https://host.example/',
    '/..//host.example/x',
    '/a/..//host.example',
    'javascript:alert(1)',
    'http://[',
    '\\\\host.example',
  ])
    expect([away, on(away)]).toEqual([away, `${origin}/`]);
});
