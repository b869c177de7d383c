'use client';

import { useEffect } from 'react';
import { Dialog, Heading, Modal, ModalOverlay } from 'react-aria-components';
import { styled } from 'styled-components';
import { Check } from '../kit/controls';
import { keyChoice, useKeysOn } from '../kit/key-choice';
import { colour, font } from '../kit/theme';
import { shortcuts as wording } from './words';

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
  ['↑ ↓', wording.previousRecordNextRecord],
  ['1 2 3 4', wording.openRecordsStampsPiece],
  ['Space', wording.openTheLoupeOn],
  ['← →', wording.previousCellNextCell],
  ['Enter', wording.editTheSelectedCell],
  [wording.aLetter, wording.onceACellIs],
  [wording.ctrlCCtrlV, wording.copyTheSelectedCell],
  ['T', wording.tickTheSelectedRow],
  ['S', wording.shortenTheSentenceOr],
  ['/', wording.searchTheRecords],
  [wording.ctrlZCtrlY, wording.undoRedo],
  ['?', wording.theseShortcuts],
];

/** All keyboard shortcuts, in a dialog; `?` opens it. */
export function ShortcutsDialog({
  isOpen,
  setOpen,
}: {
  isOpen: boolean;
  setOpen: (open: boolean) => void;
}) {
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
  }, [setOpen]);
  return (
    <Veil isOpen={isOpen} onOpenChange={setOpen} isDismissable>
      <Card>
        <Dialog style={{ padding: '22px 26px', minWidth: 420 }}>
          <Heading slot="title" level={2}>
            {wording.keyboardShortcuts}
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
              {wording.singleKeyShortcutsOn}
            </Check>
            <p style={{ color: colour.inkSoft, fontSize: 13, marginTop: 4 }}>
              {wording.whenOffHoldAlt}
            </p>
          </div>
        </Dialog>
      </Card>
    </Veil>
  );
}
