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
import { sendMails as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

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

/** Emails cannot be undone: one goes to oneself first, and the rest after a confirmation. */
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
            ? wording.starting
            : count === 0
              ? wording.nothingToSend
              : filled(wording.send, counted(count, 'email'))}
        </MainButton>
        <Veil isDismissable>
          <Card>
            <Ask>
              {({ close }) => (
                <>
                  <Heading slot="title">
                    {withParts(
                      wording.outToPeople,
                      counted(count, wording.emailGoes, wording.emailsGo),
                    )}
                  </Heading>
                  <p>
                    {withParts(
                      wording.fromSentEmailsCannot,
                      server?.senderName,
                      '<',
                      server?.sender,
                      '>',
                    )}
                  </p>
                  <div className="buttons">
                    <MainButton
                      onPress={() => {
                        onSend();
                        close();
                      }}
                    >
                      {wording.sendNow}
                    </MainButton>
                    <QuietButton onPress={close}>{wording.cancel}</QuietButton>
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
  const title = shown(handRow?.values[name?.id ?? ''] ?? '') || wording.theSelectedRecord;
  if (disabled || !handRow) return null;
  return (
    <Sentence $minor style={{ textAlign: 'right' }}>
      {withParts(
        wording.or,
        <Part
          acts
          label={wording.sendATestEmail}
          editor={(close) => <TryEditor title={title} onTry={(to) => (onTry(to), close())} />}
        >
          {wording.sendOneToYourself}
        </Part>,
      )}
    </Sentence>
  );
}

function TryEditor({ title, onTry }: { title: string; onTry: (to: string) => void }) {
  const [to, setTo] = useState('');
  const trouble = addressTrouble(to);
  const send = () => trouble === undefined && onTry(to.trim());
  return (
    <>
      <p>{withParts(wording.theEmailOfSent, title)}</p>
      <Words
        label={wording.yourEmailAddress}
        value={to}
        onChange={setTo}
        autoFocus
        onEnter={send}
      />
      <Small>{withParts(wording.thisIsOnlyA, title)}</Small>
      <div>
        <MainButton isDisabled={trouble !== undefined} onPress={send}>
          {wording.sendTestEmail}
        </MainButton>
      </div>
    </>
  );
}
