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
              : `Send ${count === 1 ? 'this' : 'these'} ${counted(count, 'email')}`}
        </MainButton>
        <Veil isDismissable>
          <Card>
            <Ask>
              {({ close }) => (
                <>
                  <Heading slot="title">
                    {counted(count, 'email goes', 'emails go')} out to people
                  </Heading>
                  <p>
                    From {server?.senderName} {'<'}
                    {server?.sender}
                    {'>'}. Sent emails cannot be recalled. Each code is read first; an email whose
                    code does not read is held back.
                  </p>
                  <div className="buttons">
                    <MainButton
                      onPress={() => {
                        onSend();
                        close();
                      }}
                    >
                      Send now
                    </MainButton>
                    <QuietButton onPress={close}>Cancel</QuietButton>
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
  const title = shown(handRow?.values[name?.id ?? ''] ?? '') || 'the selected record';
  if (disabled || !handRow) return null;
  return (
    <Sentence $minor style={{ textAlign: 'right' }}>
      Or{' '}
      <Part
        acts
        label="Send a test email to yourself"
        editor={(close) => <TryEditor title={title} onTry={(to) => (onTry(to), close())} />}
      >
        send one to yourself first
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
      <p>The email of {title}, sent to you instead:</p>
      <Words label="Your email address" value={to} onChange={setTo} autoFocus onEnter={send} />
      <Small>This is only a test. {title} still gets their own email.</Small>
      <div>
        <MainButton isDisabled={trouble !== undefined} onPress={send}>
          Send test email
        </MainButton>
      </div>
    </>
  );
}
