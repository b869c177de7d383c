import { ourWords, tradeWords, type Explained } from '../src/ui/kit/glossary';

/** The glossary as a page of the guide: `docs/guide/12-glossary.md`. */
export function glossaryPage(): string {
  const table = (words: Record<string, Explained>) => [
    '| Word | Meaning |',
    '| --- | --- |',
    ...Object.values(words)
      .sort((a, b) => a.word.localeCompare(b.word))
      .map(({ word, meaning }) => `| **${word}** | ${meaning} |`),
  ];
  return [
    '# Glossary',
    '',
    'What the words of Hand Stamp and the words of the trade mean.',
    '',
    '## Words of Hand Stamp',
    '',
    ...table(ourWords),
    '',
    '## Words of the trade',
    '',
    'On the screens these words have a dotted line. Point to one, or tap it, to read what it means.',
    '',
    ...table(tradeWords),
    '',
  ].join('\n');
}
