import { describe, expect, test } from 'vitest';
import { doorTrouble, hostOf } from '../../../src/core/payload/door';

describe('will it work at the door', () => {
  test.each([
    ['visit.marrambay/v/1', 'no-scheme'],
    ['www.visit.marrambay', 'no-scheme'],
    ['https://', 'unreadable'],
    ['http://localhost:3000/v/1', 'this-machine'],
    ['http://garden.localhost/', 'this-machine'],
    ['http://127.0.0.1/', 'this-machine'],
    ['http://[::1]:8080/', 'this-machine'],
    ['http://0.0.0.0/', 'this-machine'],
    ['http://192.168.1.20/v', 'private'],
    ['http://10.1.2.3/', 'private'],
    ['http://172.31.255.255/', 'private'],
    ['http://169.254.0.9/', 'private'],
    ['http://100.100.0.1/', 'private'],
    ['http://[fd12::1]/', 'private'],
    ['http://printer.local/', 'private'],
    ['https://intranet/', 'private'],
    ['https://marrambay.example/v', 'reserved'],
    ['https://example.com/', 'reserved'],
    ['https://garden.test', 'reserved'],
  ])('%s: %s', (address, kind) => expect(doorTrouble(address)?.kind).toBe(kind));

  test.each([
    'https://visit.marrambay/v',
    'http://172.32.0.1/',
    'http://100.128.0.1/',
    'https://[2001:db8::1]/',
    'mailto:ines@marrambay.example',
    'https://localhost.marrambay',
    'https://contest.marrambay',
  ])('nothing speaks against %s', (address) => expect(doorTrouble(address)).toBeUndefined());

  test('every trouble has a mend, and hosts are told apart with their ports', () => {
    expect(doorTrouble('x')?.mend).toBe('Put https:// in front.');
    expect(hostOf('https://visit.marrambay:8443/v')).toBe('visit.marrambay:8443');
    expect(hostOf('nothing')).toBe('nothing');
  });
});
