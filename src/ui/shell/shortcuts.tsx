'use client';

import { useEffect, useState } from 'react';
import { Dialog, Heading, Modal, ModalOverlay } from 'react-aria-components';
import { styled } from 'styled-components';
import { Check, PlainButton } from '../kit/controls';
import { keyChoice, useKeysOn } from '../kit/key-choice';
import { colour, font } from '../kit/theme';

export const Veil = styled(ModalOverlay)`
  position: fixed;
  inset: 0;
  background: rgb(29 26 38 / 28%);
  display: grid;
  place-items: center;
  z-index: 50;
`;

export const Card = styled(Modal)`
  background: ${colour.paper};
  border: 1px solid ${colour.ink};
  border-radius: 3px;
  max-width: calc(100vw - 60px);
  max-height: calc(100vh - 60px);
  overflow: auto;
  h2 {
    font: 700 19px/1.2 ${font.title};
  }
`;

const Table = styled.dl`
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 8px 18px;
  margin: 14px 0 0;
  dt {
    font-family: ${font.code};
    font-size: 13px;
  }
  dd {
    margin: 0;
  }
`;

const keys: [string, string][] = [
  ['↑ ↓', 'the record before, the record after'],
  ['1 2 3 4', 'open Records, Stamps, Piece, Run'],
  ['Space', 'lay the loupe over the code of the row in hand'],
  ['← →', 'the cell before, the cell after (Records open)'],
  ['Enter', 'change the cell in hand; Delete empties it'],
  ['a letter', 'once a cell is chosen: type over it; Escape makes keys shortcuts again'],
  ['Ctrl C, Ctrl V', 'copy the cell in hand; paste into it and those beside and below'],
  ['T', 'tick the row in hand'],
  ['S', 'fold the sentence to a line, or show it whole'],
  ['/', 'search the records'],
  ['Ctrl Z, Ctrl Y', 'undo, do again what was done last'],
  ['?', 'this sheet'],
];

/** All shortcuts in one sheet, opened by its button or `?`. */
export function ShortcutsButton() {
  const [open, setOpen] = useState(false);
  const on = useKeysOn();
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (
        event.key === '?' &&
        (keyChoice.on() || event.altKey) &&
        !(event.target as HTMLElement).closest('input, textarea, select')
      )
        setOpen(true);
    };
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, []);
  return (
    <>
      <PlainButton looks aria-label="Shortcuts" onPress={() => setOpen(true)}>
        ?
      </PlainButton>
      <Veil isOpen={open} onOpenChange={setOpen} isDismissable>
        <Card>
          <Dialog style={{ padding: '22px 26px', minWidth: 420 }}>
            <Heading slot="title" level={2}>
              Keys
            </Heading>
            <Table>
              {keys.map(([key, what]) => (
                <div key={key} style={{ display: 'contents' }}>
                  <dt>{key}</dt>
                  <dd>{what}</dd>
                </div>
              ))}
            </Table>
            <div
              style={{
                marginTop: 16,
                paddingTop: 12,
                borderTop: `1px solid ${colour.rule}`,
                maxWidth: 440,
              }}
            >
              <Check looks on={on} onChange={keyChoice.set}>
                single keys do something
              </Check>
              <p style={{ color: colour.inkSoft, fontSize: 13, marginTop: 4 }}>
                Letters, digits and signs by themselves. Switched off, they do the same with Alt
                held, so that speech input and a slip of the hand change nothing.
              </p>
            </div>
          </Dialog>
        </Card>
      </Veil>
    </>
  );
}
