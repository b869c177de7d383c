'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '../../kit/link';
import { useState } from 'react';
import { Button, Dialog, Heading } from 'react-aria-components';
import { styled } from 'styled-components';
import type { OutTrayMessage } from '../../../contract';
import { ask } from '../../kit/api';
import { ErrorLine, PlainButton, QuietButton, Small } from '../../kit/controls';
import { when } from '../../kit/dates';
import { colour, font } from '../../kit/theme';
import { Card, Veil } from '../../shell/shortcuts';
import { Rows } from './printers';
import { outTray as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/** Emails that the test mail server received, and notices of finished work. */
export function OutTray() {
  return (
    <>
      <Asking />
      <Mails />
      <Notices />
    </>
  );
}

/** Work of standing orders that is sent only after an approval. */
function Asking() {
  const client = useQueryClient();
  const [problem, setProblem] = useState<string>();
  const { data } = useQuery({
    queryKey: ['order-log', 'asking'],
    queryFn: () => ask('listFirings', { query: { state: 'asking' } }),
    refetchInterval: 5000,
  });
  if (!data || data.firings.length === 0) return null;
  const answer = (id: number, yes: boolean) =>
    void ask('answerFiring', { params: { id }, body: { yes } })
      .catch((error: unknown) => setProblem(error instanceof Error ? error.message : String(error)))
      .finally(() => void client.invalidateQueries({ queryKey: ['order-log'] }));
  return (
    <section aria-label={wording.waitingForApproval} style={{ marginBottom: 16 }}>
      <Small style={{ marginBottom: 4 }}>{wording.madeByStandingOrders}</Small>
      <Rows>
        {data.firings.map((firing) => (
          <li key={firing.id}>
            <span style={{ flex: 1 }}>
              <Link href={`/orders/${firing.order}`}>{firing.name}</Link>: {firing.title};{' '}
              {firing.steps.map((step) => step.words).join(', ') || wording.nothingMadeYet}
            </span>
            <QuietButton onPress={() => answer(firing.id, true)}>
              {wording.approveAndSend}
            </QuietButton>
            <PlainButton onPress={() => answer(firing.id, false)}>{wording.doNotSend}</PlainButton>
          </li>
        ))}
      </Rows>
      {problem && <ErrorLine>{problem}</ErrorLine>}
    </section>
  );
}

const Heads = styled(Rows)`
  li {
    padding: 0;
  }
  li > button {
    all: unset;
    box-sizing: border-box;
    cursor: pointer;
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) max-content;
    gap: 14px;
    width: 100%;
    line-height: 36px;
    white-space: nowrap;
  }
  li > button:hover {
    background: ${colour.paper};
  }
  li > button:focus-visible {
    outline: 2px solid ${colour.violet};
  }
  span {
    overflow: hidden;
    text-overflow: ellipsis;
  }
`;

const size = (bytes: number): string => filled(wording.kB, Math.max(1, Math.round(bytes / 1024)));

function Mails() {
  const { data, error } = useQuery({
    queryKey: ['out-tray'],
    queryFn: () => ask('viewOutTray'),
    refetchInterval: 3000,
  });
  const [all, setAll] = useState(false);
  // it stays open while others arrive before it
  const [open, setOpen] = useState<OutTrayMessage>();
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  if (!data) return <Small>{wording.loading}</Small>;
  if (!data.folder) return <Small style={{ paddingBottom: 12 }}>{wording.emailsLeaveByThe}</Small>;
  if (data.messages.length === 0)
    return <Small style={{ paddingBottom: 12 }}>{wording.noEmailHasBeen}</Small>;
  const few = 8;
  return (
    <>
      <p style={{ paddingBottom: 2 }}>
        {withParts(
          wording.asTheirReadersWould,
          data.all.toLocaleString('en'),
          data.all === 1 ? 'email' : 'emails',
        )}
      </p>
      <Heads aria-label={wording.emails}>
        {data.messages.slice(0, all ? undefined : few).map((message) => (
          <li key={message.name}>
            <MessageButton message={message} onPress={() => setOpen(message)} />
          </li>
        ))}
      </Heads>
      <Veil
        isDismissable
        isOpen={open !== undefined}
        onOpenChange={(on) => !on && setOpen(undefined)}
      >
        <Card>{open && <Message message={open} />}</Card>
      </Veil>
      {data.messages.length > few && !all && (
        <PlainButton style={{ marginBottom: 14 }} onPress={() => setAll(true)}>
          {withParts(wording.showTheLatest, data.messages.length)}
        </PlainButton>
      )}
    </>
  );
}

function MessageButton({ message, onPress }: { message: OutTrayMessage; onPress: () => void }) {
  return (
    <Button onPress={onPress} aria-label={filled(wording.to, message.subject, message.to)}>
      <span>
        <strong>{message.subject || wording.noSubject}</strong>
      </span>
      <span>{message.to}</span>
      <Small as="span">
        {message.files.length > 0 && filled(wording.attached, message.files.length)}
        {when(message.at)}
      </Small>
    </Button>
  );
}

const Sheet = styled(Dialog)`
  outline: none;
  width: min(720px, calc(100vw - 80px));
  display: grid;
  header {
    padding: 18px 24px 12px;
    border-bottom: 1px solid ${colour.rule};
    font-size: 13px;
    color: ${colour.inkSoft};
    display: grid;
    gap: 2px;
    overflow-wrap: anywhere;
  }
  h2 {
    font: 700 19px/1.3 ${font.title};
    color: ${colour.ink};
  }
  iframe {
    border: 0;
    width: 100%;
    height: min(480px, calc(100vh - 320px));
    background: #fff;
  }
  footer {
    padding: 10px 24px 14px;
    border-top: 1px solid ${colour.rule};
    display: flex;
    gap: 16px;
    flex-wrap: wrap;
    font-size: 14px;
  }
`;

/** An email as its reader sees it, in a frame that runs and loads nothing. */
function Message({ message }: { message: OutTrayMessage }) {
  const address = `/api/out-tray/${message.name}`;
  return (
    <Sheet>
      {({ close }) => (
        <>
          <header>
            <Heading slot="title">{message.subject || wording.noSubject}</Heading>
            <span>{withParts(wording.from, message.from)}</span>
            <span>{withParts(wording.to2, message.to)}</span>
          </header>
          <iframe title={wording.email} src={address} sandbox="" />
          <footer>
            {message.files.map((file, i) => (
              <a key={i} href={`${address}/files/${i}`} download>
                {file.name}, {size(file.size)}
              </a>
            ))}
            <PlainButton style={{ marginLeft: 'auto', padding: 0 }} onPress={close}>
              {wording.close}
            </PlainButton>
          </footer>
        </>
      )}
    </Sheet>
  );
}

/** Notices of finished work, with its files. */
function Notices() {
  const { data, error } = useQuery({
    queryKey: ['letters'],
    queryFn: () => ask('listLetters'),
    refetchInterval: 4000,
  });
  const [all, setAll] = useState(false);
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  const letters = data?.letters ?? [];
  if (data && letters.length === 0) return <Small>{wording.nothingHasBeenSent}</Small>;
  return (
    <>
      <Rows aria-label={wording.notices}>
        {letters.slice(0, all ? letters.length : 8).map((letter) => (
          <li key={letter.id}>
            <b>
              <strong>{letter.subject}</strong> <Small as="span">{letter.body}</Small>
            </b>
            {letter.files.map((file) => (
              <a key={file.id} href={`/api/files/${file.id}`} download title={file.name}>
                {file.name.split('.').at(-1)!.toUpperCase()}
              </a>
            ))}
            <Small>{when(letter.at)}</Small>
          </li>
        ))}
      </Rows>
      {letters.length > 8 && !all && (
        <PlainButton onPress={() => setAll(true)}>
          {withParts(wording.showAll, letters.length)}
        </PlainButton>
      )}
    </>
  );
}
