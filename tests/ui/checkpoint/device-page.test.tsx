import { render, screen } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { DevicePage } from '../../../src/ui/features/checkpoint/device-page';
import { remembered } from '../../../src/ui/kit/remembered';

const blocked = () => {
  throw new DOMException('The operation is insecure.', 'SecurityError');
};
beforeEach(() => localStorage.clear());
afterEach(() => vi.restoreAllMocks());

test('what is remembered is there again, and what is forgotten is not', () => {
  expect(remembered.get('a')).toBeNull();
  remembered.set('a', '1');
  expect(remembered.get('a')).toBe('1');
  remembered.set('a', undefined);
  expect(remembered.get('a')).toBeNull();
});

test('a device whose browser keeps nothing says that it has not joined, instead of staying blank', () => {
  vi.spyOn(Storage.prototype, 'getItem').mockImplementation(blocked);
  vi.spyOn(Storage.prototype, 'setItem').mockImplementation(blocked);
  expect(() => remembered.set('a', '1')).not.toThrow();
  render(<DevicePage />);
  expect(screen.getByText('This device has not joined')).toBeTruthy();
});
