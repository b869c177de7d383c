'use client';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { DialogTrigger } from 'react-aria-components';
import type { DeliveryView, WebhookView } from '../../../contract';
import { webhookEvents, webhookWords, type WebhookEvent } from '../../../core/access/webhooks';
import { counted } from '../../../core/base/words';
import { ask } from '../../kit/api';
import {
  Check,
  ChoicePart,
  Editor,
  ErrorLine,
  MainButton,
  Part,
  PlainButton,
  Pop,
  QuietButton,
  Sentence,
  Small,
  Words,
} from '../../kit/controls';
import { when } from '../../kit/dates';
import { Mark, type MarkName } from '../../kit/mark';
import { colour, font } from '../../kit/theme';
import { Once } from './once';
import { told as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/** Webhooks, each as a sentence with its latest deliveries. */
export function Told() {
  const client = useQueryClient();
  const [secret, setSecret] = useState<string>();
  const [problem, setProblem] = useState<string>();
  const { data, error } = useQuery({
    queryKey: ['webhooks'],
    queryFn: () => ask('listWebhooks'),
    refetchInterval: 10_000,
  });
  const act = (work: Promise<unknown>) =>
    void work.then(
      () => (setProblem(undefined), client.invalidateQueries({ queryKey: ['webhooks'] })),
      (e: unknown) => setProblem(e instanceof Error ? e.message : String(e)),
    );
  return (
    <div style={{ display: 'grid', gap: 10, maxWidth: 900, justifyItems: 'start' }}>
      {secret && (
        <Once
          what={wording.secretThatSignsThe}
          value={secret}
          onDone={() => setSecret(undefined)}
        />
      )}
      {(problem ?? error?.message) && <ErrorLine>{problem ?? error?.message}</ErrorLine>}
      {data?.webhooks.map((webhook) => (
        <One key={webhook.id} webhook={webhook} act={act} />
      ))}
      {data?.webhooks.length === 0 && <Small>{wording.noWebhooksYetA}</Small>}
      <DialogTrigger>
        <QuietButton>{wording.addWebhook}</QuietButton>
        <Pop placement="bottom start" offset={4}>
          <Editor aria-label={wording.addWebhook}>
            {({ close }) => <New onMade={(made) => (setSecret(made), close())} />}
          </Editor>
        </Pop>
      </DialogTrigger>
    </div>
  );
}

const listed = (names: readonly string[]): string =>
  names.length < 2
    ? (names[0] ?? '')
    : filled(wording.or, names.slice(0, -1).join(', '), names.at(-1));

function One({ webhook, act }: { webhook: WebhookView; act: (work: Promise<unknown>) => void }) {
  const params = { id: webhook.id };
  return (
    <Sentence $minor>
      {withParts(
        wording.whenIsCalledAt,
        listed(webhook.events.map((e) => webhookWords[e].name)),
        webhook.list ? filled(wording.in, webhook.list.name) : '',
        <b>{webhook.name}</b>,
        <span style={{ fontFamily: font.code, overflowWrap: 'anywhere' }}>{webhook.address}</span>,
        <ChoicePart
          label={filled(wording.whetherIsCalled, webhook.name)}
          value={webhook.open ? 'open' : 'closed'}
          onChange={(id) => act(ask('changeWebhook', { params, body: { open: id === 'open' } }))}
          choices={[
            { id: 'open', name: wording.atOnce },
            {
              id: 'closed',
              name: 'paused',
              about: wording.changesMadeWhileIt,
            },
          ]}
        />,
        webhook.trouble && <ErrorLine as="span">{webhook.trouble} </ErrorLine>,
        <Part
          label={filled(wording.whatWasSentTo, webhook.name)}
          editor={<Deliveries webhook={webhook} />}
        >
          {webhook.waiting > 0
            ? filled(wording.waiting, counted(webhook.waiting, 'thing'))
            : wording.deliveries}
        </Part>,
        '. ',
        <Part
          label={`Delete ${webhook.name}`}
          editor={(close) => (
            <>
              <p style={{ maxWidth: 300 }}>{wording.nothingMoreIsSent}</p>
              <div>
                <QuietButton onPress={() => (act(ask('removeWebhook', { params })), close())}>
                  {wording.deleteWebhook2}
                </QuietButton>
              </div>
            </>
          )}
        >
          {wording.deleteWebhook}
        </Part>,
      )}
    </Sentence>
  );
}

const marks: Record<DeliveryView['state'], MarkName> = {
  delivered: 'ready',
  waiting: 'look',
  failed: 'failed',
};

function Deliveries({ webhook }: { webhook: WebhookView }) {
  const client = useQueryClient();
  const [problem, setProblem] = useState<string>();
  const params = { id: webhook.id };
  const key = ['webhooks', webhook.id];
  const { data, error } = useQuery({
    queryKey: key,
    queryFn: () => ask('listDeliveries', { params }),
    refetchInterval: 4000,
  });
  const again = (delivery: string) =>
    void ask('deliverAgain', { params, body: { delivery } }).then(
      () => (setProblem(undefined), client.invalidateQueries({ queryKey: key })),
      (e: unknown) => setProblem(e instanceof Error ? e.message : String(e)),
    );
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  if (!data) return <Small>{wording.loading}</Small>;
  if (data.deliveries.length === 0) return <Small>{wording.nothingYet}</Small>;
  return (
    <div style={{ width: 560, maxHeight: 380, overflow: 'auto', display: 'grid', gap: 0 }}>
      {problem && <ErrorLine>{problem}</ErrorLine>}
      {data.deliveries.map((one) => (
        <div
          key={one.id}
          style={{
            display: 'grid',
            gridTemplateColumns: '14px 120px 1fr auto',
            gap: 8,
            alignItems: 'baseline',
            padding: '6px 0',
            borderBottom: `1px solid ${colour.rule}`,
            fontSize: 13,
          }}
        >
          <Mark name={marks[one.state]} label={one.state} />
          <span suppressHydrationWarning>{when(one.at)}</span>
          <span style={{ overflowWrap: 'anywhere' }}>
            <b>{one.kind}</b>{' '}
            {one.status !== null
              ? filled(wording.answered, one.status)
              : (one.answer ?? wording.notSentYet)}
            {one.tries > 1 && `, ${counted(one.tries, 'try', 'tries')}`}
            {one.state === 'waiting' && one.tries > 0 && filled(wording.again, when(one.due))}
            <Small style={{ fontFamily: font.code }}>{one.body.slice(0, 160)}</Small>
          </span>
          <PlainButton onPress={() => again(one.id)}>{wording.sendAgain}</PlainButton>
        </div>
      ))}
    </div>
  );
}

function New({ onMade }: { onMade: (secret: string) => void }) {
  const client = useQueryClient();
  const [name, setName] = useState('');
  const [address, setAddress] = useState('');
  const [events, setEvents] = useState<WebhookEvent[]>(['record.came', 'record.changed']);
  const [list, setList] = useState<number | null>(null);
  const lists = useQuery({ queryKey: ['lists'], queryFn: () => ask('listLists') });
  const make = useMutation({
    mutationFn: () =>
      ask('makeWebhook', {
        body: { name: name.trim(), address: address.trim(), events, list },
      }),
    onSuccess: ({ secret }) => {
      void client.invalidateQueries({ queryKey: ['webhooks'] });
      onMade(secret);
    },
  });
  return (
    <div style={{ display: 'grid', gap: 12, width: 420 }}>
      <Words label={wording.nameOfTheProgram} value={name} onChange={setName} autoFocus />
      <Words label={wording.webAddressToCall} value={address} onChange={setAddress} />
      <div style={{ display: 'grid', gap: 6 }}>
        <Small>{wording.sendWhen}</Small>
        {webhookEvents.map((event) => (
          <Check
            key={event}
            on={events.includes(event)}
            onChange={(on) =>
              setEvents(on ? [...events, event] : events.filter((e) => e !== event))
            }
          >
            {webhookWords[event].name}
          </Check>
        ))}
      </div>
      <Sentence $minor>
        {withParts(
          wording.of,
          <ChoicePart
            label={wording.list}
            value={list === null ? 'all' : String(list)}
            onChange={(id) => setList(id === 'all' ? null : Number(id))}
            choices={[
              { id: 'all', name: wording.allLists },
              ...(lists.data?.lists ?? []).map((l) => ({ id: String(l.id), name: l.name })),
            ]}
          />,
        )}
      </Sentence>
      {make.error && <ErrorLine>{make.error.message}</ErrorLine>}
      <div>
        <MainButton
          isDisabled={
            name.trim() === '' || address.trim() === '' || events.length === 0 || make.isPending
          }
          onPress={() => make.mutate()}
        >
          {wording.startSending}
        </MainButton>
      </div>
    </div>
  );
}
