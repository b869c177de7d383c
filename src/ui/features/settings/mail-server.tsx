'use client';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { MailServerChange, MailServerView } from '../../../contract';
import { addressTrouble } from '../../../core/mail/address';
import { ask } from '../../kit/api';
import { portOf, portTrouble } from '../../kit/port';
import {
  ChoicePart,
  ErrorLine,
  MainButton,
  Measure,
  Part,
  PlainButton,
  Sentence,
  Small,
  Words,
} from '../../kit/controls';
import { mailServer as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const tlsWords = {
  yes: { name: wording.encryptedTLS, about: wording.usuallyPort465 },
  after: {
    name: wording.encryptedSTARTTLS,
    about: wording.usuallyPort587Without,
  },
  no: {
    name: wording.notEncrypted,
    about: wording.othersOnTheNetwork,
  },
} as const;
const first: MailServerChange = {
  host: '',
  port: 465,
  tls: 'yes',
  user: '',
  senderName: '',
  sender: '',
  pace: 60,
  notices: '',
};

/** The mail server, in a sentence; a new one is entered in a form. */
export function MailServerSettings({ onProblem }: { onProblem: (text: string) => void }) {
  const client = useQueryClient();
  const { data } = useQuery({
    queryKey: ['mail-server'],
    queryFn: () => ask('viewMailServer'),
  });
  const [adding, setAdding] = useState(false);
  const again = () => client.invalidateQueries({ queryKey: ['mail-server'] });
  const keep = (next: MailServerChange) =>
    ask('changeMailServer', { body: next }).then(again, (e: unknown) =>
      onProblem(e instanceof Error ? e.message : String(e)),
    );
  if (!data) return null;
  if (!data.server || adding)
    return (
      <ServerForm
        from={data.server ?? first}
        onKept={() => (setAdding(false), void again())}
        onCancel={data.server ? () => setAdding(false) : undefined}
      />
    );
  return <ServerSentence server={data.server} keep={keep} onOther={() => setAdding(true)} />;
}

function ServerSentence({
  server,
  keep,
  onOther,
}: {
  server: MailServerView;
  keep: (next: MailServerChange) => Promise<unknown>;
  onOther: () => void;
}) {
  const { hasPassword, ...now } = server;
  const set = (next: Partial<MailServerChange>) => void keep({ ...now, ...next });
  return (
    <Sentence style={{ maxWidth: 760 }}>
      {withParts(
        wording.emailsLeaveByFrom,
        <Part
          label={wording.mailServer}
          editor={(close) => <Other onPress={() => (close(), onOther())} server={server} />}
        >
          {withParts(wording.port, server.host, server.port)}
        </Part>,
        tlsWords[server.tls].name,
        server.user &&
          filled(wording.as, server.user, hasPassword ? wording.withTheSavedPassword : ''),
        <Part
          label={wording.senderOfEmails}
          editor={(close) => (
            <SenderEditor server={server} onKeep={(next) => (set(next), close())} />
          )}
        >
          {server.senderName} {'<'}
          {server.sender}
          {'>'}
        </Part>,
        <Part
          label={wording.emailsPerMinute}
          editor={
            <>
              <Measure
                label={wording.emailsPerMinuteAt}
                value={server.pace}
                min={1}
                max={6000}
                step={1}
                onChange={(pace) => set({ pace: Math.round(pace) })}
              />
              <Small>{wording.yourMailProviderTells}</Small>
            </>
          }
        >
          {withParts(wording.aMinute, server.pace.toLocaleString('en'))}
        </Part>,
        <Part
          label={wording.whoGetsNotices}
          editor={(close) => (
            <AddressEditor
              label={wording.noticesGoTo}
              value={server.notices}
              none={wording.leaveBlankToKeep}
              onKeep={(notices) => (set({ notices }), close())}
            />
          )}
        >
          {server.notices || 'nobody'}
        </Part>,
        <Part label={wording.testTheMailServer} editor={(close) => <TryEditor close={close} />}>
          {wording.sendATestEmail}
        </Part>,
      )}
    </Sentence>
  );
}

function Other({ server, onPress }: { server: MailServerView; onPress: () => void }) {
  return (
    <>
      <p>{withParts(wording.port2, server.host, server.port, tlsWords[server.tls].name)}</p>
      <div>
        <MainButton onPress={onPress}>{wording.changeServer}</MainButton>
      </div>
    </>
  );
}

function SenderEditor({
  server,
  onKeep,
}: {
  server: MailServerView;
  onKeep: (next: { senderName: string; sender: string }) => void;
}) {
  const [senderName, setName] = useState(server.senderName);
  const [sender, setSender] = useState(server.sender);
  const trouble = addressTrouble(sender);
  return (
    <>
      <Words label={wording.name} value={senderName} onChange={setName} autoFocus />
      <Words label={wording.emailAddress} value={sender} onChange={setSender} />
      {trouble && <Small>{trouble}</Small>}
      <div>
        <MainButton
          isDisabled={trouble !== undefined}
          onPress={() => onKeep({ senderName: senderName.trim(), sender: sender.trim() })}
        >
          {wording.apply}
        </MainButton>
      </div>
    </>
  );
}

function AddressEditor({
  label,
  value,
  none,
  onKeep,
}: {
  label: string;
  value: string;
  none: string;
  onKeep: (address: string) => void;
}) {
  const [text, setText] = useState(value);
  const trouble = text.trim() === '' ? undefined : addressTrouble(text);
  const use = () => trouble === undefined && onKeep(text.trim());
  return (
    <>
      <Words label={label} value={text} onChange={setText} autoFocus onEnter={use} />
      <Small>{trouble ?? none}</Small>
      <div>
        <MainButton isDisabled={trouble !== undefined} onPress={use}>
          {wording.apply}
        </MainButton>
      </div>
    </>
  );
}

function TryEditor({ close }: { close: () => void }) {
  const [to, setTo] = useState('');
  const trying = useMutation({
    mutationFn: () => ask('tryMailServer', { body: { to: to.trim() } }),
  });
  const trouble = addressTrouble(to);
  return (
    <>
      <Words
        label={wording.testEmailTo}
        value={to}
        onChange={setTo}
        autoFocus
        onEnter={() => trouble === undefined && trying.mutate()}
      />
      {trying.isSuccess ? (
        <p>{wording.testEmailSent}</p>
      ) : (
        <Small>{wording.theServersAnswerAppears}</Small>
      )}
      {trying.error && <ErrorLine style={{ maxWidth: 420 }}>{trying.error.message}</ErrorLine>}
      <div style={{ display: 'flex', gap: 10 }}>
        <MainButton
          isDisabled={trouble !== undefined || trying.isPending}
          onPress={() => (trying.isSuccess ? close() : trying.mutate())}
        >
          {trying.isPending ? wording.sending : trying.isSuccess ? wording.close : wording.send}
        </MainButton>
      </div>
    </>
  );
}

const fields: readonly [
  key: 'host' | 'port' | 'user' | 'password' | 'senderName' | 'sender',
  label: string,
][] = [
  ['host', wording.mailServerSMTPHost],
  ['port', wording.port3],
  ['user', wording.userNameLeaveBlank],
  ['password', wording.password],
  ['senderName', wording.senderName],
  ['sender', wording.senderEmailAddress],
];

function ServerForm({
  from,
  onKept,
  onCancel,
}: {
  from: MailServerChange | MailServerView;
  onKept: () => void;
  onCancel?: () => void;
}) {
  const { host, tls: before, user, senderName, sender, pace, notices } = from;
  const [form, setForm] = useState({
    host,
    port: String(from.port),
    user,
    password: '',
    senderName,
    sender,
  });
  const [tls, setTls] = useState(before);
  const keep = useMutation({
    mutationFn: (port: number) =>
      ask('changeMailServer', {
        body: {
          ...form,
          port,
          tls,
          pace,
          notices,
          // a blank field keeps its value
          password: form.password === '' ? undefined : form.password,
        },
      }),
    onSuccess: onKept,
  });
  const port = portOf(form.port);
  const wrongPort = portTrouble(form.port, wording.n465Or587);
  return (
    <form
      style={{ display: 'grid', gap: 10, maxWidth: 560 }}
      onSubmit={(e) => {
        e.preventDefault();
        if (port !== undefined) keep.mutate(port);
      }}
    >
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 10 }}>
        {fields.map(([id, label]) => (
          <Words
            key={id}
            label={label}
            value={form[id]}
            type={id === 'password' ? 'password' : undefined}
            onChange={(value) => setForm({ ...form, [id]: value })}
          />
        ))}
      </div>
      <Sentence>
        {withParts(
          wording.encryption2,
          <ChoicePart
            label={wording.encryption}
            value={tls}
            onChange={setTls}
            choices={(Object.keys(tlsWords) as (keyof typeof tlsWords)[]).map((id) => ({
              id,
              ...tlsWords[id],
            }))}
          />,
        )}
      </Sentence>
      <div style={{ display: 'flex', gap: 14, alignItems: 'center' }}>
        <MainButton
          type="submit"
          isDisabled={keep.isPending || !form.host || !form.sender || port === undefined}
        >
          {wording.save}
        </MainButton>
        {onCancel && <PlainButton onPress={onCancel}>{wording.cancel}</PlainButton>}
      </div>
      <Small>{wording.thePasswordIsStored}</Small>
      {wrongPort && <ErrorLine>{wrongPort}</ErrorLine>}
      {keep.error && <ErrorLine>{keep.error.message}</ErrorLine>}
    </form>
  );
}
