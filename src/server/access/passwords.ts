import { dictionary } from '@zxcvbn-ts/language-common';
import { Refusal } from '../platform';
import { passwordTrouble } from '../../core/access/passwords';

/** Guesses that a password must withstand, as a power of ten. */
const guessesLog10 = 9;
/** Longer ones are judged by their beginning: what judges them takes time with their length. */
const judged = 64;

let judge: Promise<(password: string) => number> | undefined;
/** The judge of passwords, loaded with its first use: its word lists are large. */
const loadJudge = () =>
  (judge ??= Promise.all([
    import('@zxcvbn-ts/core'),
    import('@zxcvbn-ts/language-common'),
    import('@zxcvbn-ts/language-en'),
  ]).then(([{ zxcvbn, zxcvbnOptions }, common, english]) => {
    zxcvbnOptions.setOptions({
      dictionary: { ...common.dictionary, ...english.dictionary },
      graphs: common.adjacencyGraphs,
    });
    return (password) => zxcvbn(password.slice(0, judged)).guessesLog10;
  }));

const commonest = new Set<string>(dictionary.passwords as readonly string[]);

/** @throws Refusal that says what is wrong with a password */
export async function checkPassword(password: string, known: readonly string[]): Promise<void> {
  const trouble = passwordTrouble(
    password,
    (text) => commonest.has(text),
    known.flatMap((text) => text.split(/[\s@.]+/)).filter((word) => word !== 'example'),
  );
  if (trouble) throw new Refusal(trouble);
  const guesses = (await loadJudge())(password);
  if (guesses < guessesLog10)
    throw new Refusal(
      'This password is easy to guess: it is a common word or pattern with little added. Choose three or four words that do not belong together.',
    );
}
