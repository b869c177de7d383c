'use client';

import { counted } from '../../../core/base/words';
import { useState } from 'react';
import { Dialog, DialogTrigger, Heading } from 'react-aria-components';
import { styled } from 'styled-components';
import type { MailServerView } from '../../../contract';
import { addressTrouble } from '../../../core/mail/address';
import { shown } from '../../../core/records/sealed';
import { nameColumn } from '../../../core/records/columns';
import { MainButton, Part, QuietButton, Sentence, Small, Words } from '../../kit/controls';
import { useHand, useJob } from '../../shell/ledger/context';
import { Card, Veil } from '../../shell/shortcuts';

const Ask = styled(Dialog)`
  outline: none;
  padding: 20px 24px 22px;
  width: min(520px, calc(100vw - 80px));
  display: grid;
  gap: 12px;
  .buttons {
    display: flex;
    gap: 10px;
    align-items: center;
  }
`;

/** Mails cannot be taken back: one goes to oneself first, and the rest after a second look. */
export function SendMails({
  count,
  server,
  disabled,
  starting,
  onSend,
  onTry,
}: {
  count: number;
  server: MailServerView | undefined;
  disabled: boolean;
  starting: boolean;
  onSend: () => void;
  onTry: (to: string) => void;
}) {
  return (
    <div style={{ display: 'grid', gap: 8, justifyItems: 'stretch', marginBottom: 14 }}>
      <DialogTrigger>
        <MainButton isDisabled={disabled || count === 0} isPending={starting}>
          {starting
            ? 'Starting …'
            : count === 0
              ? 'Nothing to send'
              : `Send ${count === 1 ? 'this' : 'these'} ${counted(count, 'mail')}`}
        </MainButton>
        <Veil isDismissable>
          <Card>
            <Ask>
              {({ close }) => (
                <>
                  <Heading slot="title">
                    {counted(count, 'mail goes', 'mails go')} out to people
                  </Heading>
                  <p>
                    From {server?.senderName} {'<'}
                    {server?.sender}
                    {'>'}. What has been sent cannot be taken back; each is made and its code is
                    read first, and one that does not read is held back.
                  </p>
                  <div className="buttons">
                    <MainButton
                      onPress={() => {
                        onSend();
                        close();
                      }}
                    >
                      Send them
                    </MainButton>
                    <QuietButton onPress={close}>Not yet</QuietButton>
                  </div>
                </>
              )}
            </Ask>
          </Card>
        </Veil>
      </DialogTrigger>
      <TryPart disabled={disabled} onTry={onTry} />
    </div>
  );
}

function TryPart({ disabled, onTry }: { disabled: boolean; onTry: (to: string) => void }) {
  const { job } = useJob();
  const { handRow } = useHand();
  const name = nameColumn(job.list.columns);
  const title = shown(handRow?.values[name?.id ?? ''] ?? '') || 'the record in hand';
  if (disabled || !handRow) return null;
  return (
    <Sentence $minor style={{ textAlign: 'right' }}>
      Or{' '}
      <Part
        acts
        label="Send one to me first"
        editor={(close) => <TryEditor title={title} onTry={(to) => (onTry(to), close())} />}
      >
        send one to me first
      </Part>
      .
    </Sentence>
  );
}

function TryEditor({ title, onTry }: { title: string; onTry: (to: string) => void }) {
  const [to, setTo] = useState('');
  const trouble = addressTrouble(to);
  const send = () => trouble === undefined && onTry(to.trim());
  return (
    <>
      <p>The mail of {title}, to you instead:</p>
      <Words label="Your address" value={to} onChange={setTo} autoFocus onEnter={send} />
      <Small>It counts for nobody: {title} gets theirs with the others.</Small>
      <div>
        <MainButton isDisabled={trouble !== undefined} onPress={send}>
          Send it
        </MainButton>
      </div>
    </>
  );
}
