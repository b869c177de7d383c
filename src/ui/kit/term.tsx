'use client';

import { useState, type ReactNode } from 'react';
import { Button, Tooltip, TooltipTrigger } from 'react-aria-components';
import { styled } from 'styled-components';
import { tradeWords } from './glossary';
import { colour } from './theme';
import { term as wording } from './words';
import { filled } from './with-parts';

const Word = styled(Button)`
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  padding: 0;
  border-bottom: 1.5px dotted ${colour.inkSoft};
  cursor: help;
`;
const Meaning = styled(Tooltip)`
  background: ${colour.ink};
  color: #fff;
  border-radius: 3px;
  padding: 9px 12px;
  max-width: 320px;
  font-size: 13px;
  line-height: 1.4;
  b {
    display: block;
  }
`;

/** A word of the trade with a dotted line under it. It is explained on hover, focus and touch. */
export function Term({ of, children }: { of: keyof typeof tradeWords; children: ReactNode }) {
  const [open, setOpen] = useState(false);
  const { word, meaning } = tradeWords[of];
  return (
    <TooltipTrigger delay={150} isOpen={open} onOpenChange={setOpen}>
      <Word aria-label={filled(wording.whatIsThis, String(children))} onPress={() => setOpen(true)}>
        {children}
      </Word>
      <Meaning placement="bottom start" offset={5}>
        <b>{word}</b>
        {meaning}
      </Meaning>
    </TooltipTrigger>
  );
}
