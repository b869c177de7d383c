import { dictionary } from '@zxcvbn-ts/language-common';
import { Refusal } from '../platform';
import { passwordTrouble } from '../../core/access/passwords';

const commonest = new Set<string>(dictionary.passwords as readonly string[]);

/** @throws Refusal with what is wrong with a password, in words */
export function checkPassword(password: string, known: readonly string[]): void {
  const trouble = passwordTrouble(
    password,
    (text) => commonest.has(text),
    known.flatMap((text) => text.split(/[\s@.]+/)).filter((word) => word !== 'example'),
  );
  if (trouble) throw new Refusal(trouble);
}
