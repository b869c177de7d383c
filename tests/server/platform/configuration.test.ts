import { spawnSync } from 'node:child_process';
import { expect, test } from 'vitest';
import { configuration } from '../../../src/server/platform/configuration';

const given = (set: Record<string, string>) => configuration({ NODE_ENV: 'test', ...set });

test('what is set is taken as it is meant; what is left out or blank is not set', () => {
  expect(
    given({ HAND_STAMP_HOSTS: ' Stamps.MarramBay.example, other.example', HAND_STAMP_KEY: '' }),
  ).toEqual({ HAND_STAMP_HOSTS: ['stamps.marrambay.example', 'other.example'] });
  expect(given({ HAND_STAMP_TASK_MB: '512', HAND_STAMP_SHORT: 'yes' })).toEqual({
    HAND_STAMP_TASK_MB: 512,
    HAND_STAMP_SHORT: 'yes',
  });
});

test('every wrong value is named in one line, with what it should be', () => {
  const said = (set: Record<string, string>) => {
    try {
      given(set);
      return '';
    } catch (error) {
      return (error as Error).message;
    }
  };
  expect(said({ DATABASE_URL: 'mysql://x' })).toBe('DATABASE_URL: it begins with postgres://.');
  expect(said({ HAND_STAMP_TASK_MB: 'much', LOG_LEVEL: 'loud' })).toMatch(
    /^HAND_STAMP_TASK_MB: it is a number; LOG_LEVEL: it is trace, .* or silent\.$/,
  );
  for (const hosts of ['https://a.example', 'a.example:3000', 'a b.example', '*.example'])
    expect(said({ HAND_STAMP_HOSTS: hosts })).toMatch(/^HAND_STAMP_HOSTS: it is host names/);
  expect(said({ HAND_STAMP_SHORT: 'true' })).toMatch(/yes, or left out/);
});

test('the start command tells a wrong value in one line and starts nothing', () => {
  const { status, stdout, stderr } = spawnSync(
    process.execPath,
    ['--import', 'tsx', 'scripts/start.ts', '--purpose=wrong'],
    { encoding: 'utf8', env: { ...process.env, LOG_LEVEL: 'loud' } },
  );
  expect(status).toBe(1);
  expect(stdout).toBe('');
  expect(stderr.trim()).toMatch(
    /^\[hand-stamp\] Something is set wrongly\. LOG_LEVEL: it is trace, [^\n]*$/,
  );
});
