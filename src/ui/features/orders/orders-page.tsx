'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '../../kit/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { DialogTrigger } from 'react-aria-components';
import { styled } from 'styled-components';
import type { OrderLine, OrderView } from '../../../contract';

import { ask } from '../../kit/api';
import {
  Editor,
  ErrorLine,
  MainButton,
  Part,
  Pop,
  QuietButton,
  Small,
  Words,
} from '../../kit/controls';
import { when } from '../../kit/dates';
import { Mark, type MarkName } from '../../kit/mark';
import { ThrowAway } from '../../kit/throw-away';
import { colour, font } from '../../kit/theme';
import { CallPart } from './call-part';
import { NewOrder } from './new-order';
import { OrderLog } from './order-log';
import { Rehearsal } from './rehearsal';
import { OrderSentence } from './sentence';
import { heldOf, useChoices, useOrder } from './use-order';
import { ordersPage as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const Frame = styled.main`
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  min-height: 0;
  .head {
    display: flex;
    align-items: center;
    gap: 12px;
    padding: 11px 20px;
    border-bottom: 1.5px solid ${colour.ink};
    min-height: 73px;
    h1 {
      font: 700 25px/1.2 ${font.title};
    }
  }
  .two {
    display: grid;
    grid-template-columns: 262px minmax(0, 1fr);
    min-height: 0;
  }
  .main {
    overflow: auto;
    padding: 16px 24px 40px;
    background: ${colour.paper};
  }
  .tabs {
    display: flex;
    gap: 18px;
    align-items: baseline;
    margin: 22px 0 8px;
    button {
      all: unset;
      cursor: pointer;
      font: 700 16px/1.4 ${font.title};
      color: ${colour.inkSoft};
      border-bottom: 2px solid transparent;
    }
    button[aria-pressed='true'] {
      color: ${colour.ink};
      border-color: ${colour.ink};
    }
    button:focus-visible {
      outline: 2px solid ${colour.violet};
    }
  }
`;

const Side = styled.nav`
  border-right: 1px solid ${colour.rule};
  overflow: auto;
  .title {
    padding: 9px 12px;
    border-bottom: 1px solid ${colour.ruleStrong};
    h2 {
      font: 700 15px/1.3 ${font.title};
    }
  }
  a {
    display: flex;
    gap: 8px;
    align-items: center;
    padding: 8px 12px;
    border-bottom: 1px solid ${colour.rule};
    color: ${colour.ink};
    text-decoration: none;
    font-size: 13.5px;
    span {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
      flex: 1;
    }
    b {
      font-weight: 400;
      font-size: 12px;
      color: ${colour.look};
      white-space: nowrap;
    }
  }
  a:hover {
    background: ${colour.paper};
  }
  a[aria-current] {
    background: ${colour.violetWash};
    font-weight: 700;
  }
`;

const markOf = (line: OrderLine): MarkName =>
  line.state === 'stopped' || line.day.failed > 0
    ? 'failed'
    : line.state === 'off'
      ? 'out'
      : line.day.asking > 0 || line.pausedUntil
        ? 'look'
        : 'ready';
const stateWords = (line: OrderLine): string =>
  line.state === 'stopped'
    ? wording.stoppedByItsSafety
    : line.state === 'off'
      ? 'off'
      : line.pausedUntil
        ? wording.onWaitingForApproval
        : line.day.failed > 0
          ? wording.onWithAFailure
          : 'on';

/** All standing orders, and one of them, or what all did in the last day. */
export function OrdersPage({ id }: { id: number | undefined }) {
  const { data, error } = useQuery({
    queryKey: ['orders'],
    queryFn: () => ask('listOrders'),
    refetchInterval: 5000,
  });
  const orders = data?.orders ?? [];
  const on = orders.filter((o) => o.state === 'on').length;
  const side = (
    <Side aria-label={wording.standingOrders}>
      <div className="title">
        <h2>{wording.standingOrders}</h2>
        <Small>{data ? filled(wording.onOff, on, orders.length - on) : ' '}</Small>
      </div>
      {orders.map((line) => (
        <Link
          key={line.id}
          href={`/orders/${line.id}`}
          aria-current={line.id === id ? 'page' : undefined}
          title={line.says}
        >
          <Mark name={markOf(line)} label={stateWords(line)} />
          <span>{line.name}</span>
          {line.day.asking > 0 && (
            <b>{withParts(wording.waitingForApproval, line.day.asking.toLocaleString('en'))}</b>
          )}
        </Link>
      ))}
      <Link href="/orders" aria-current={id === undefined ? 'page' : undefined}>
        <span>{wording.whatAllOrdersDid}</span>
      </Link>
    </Side>
  );
  if (id !== undefined) return <OneOrder key={id} id={id} side={side} />;
  return (
    <Frame>
      <div className="head">
        <div style={{ flex: 1 }}>
          <h1>{wording.standingOrders}</h1>
          <Small>{wording.workThatStartsBy}</Small>
        </div>
        <DialogTrigger>
          <MainButton>{wording.newStandingOrder}</MainButton>
          <Pop placement="bottom end" offset={4}>
            <Editor aria-label={wording.newStandingOrder}>
              <NewOrder />
            </Editor>
          </Pop>
        </DialogTrigger>
      </div>
      <div className="two">
        {side}
        <div className="main">
          {error && <ErrorLine>{error.message}</ErrorLine>}
          {data?.orders.length === 0 ? (
            <p>{wording.noStandingOrdersYet}</p>
          ) : (
            <>
              <h2 style={{ font: `700 17px/1.3 ${font.title}`, marginBottom: 10 }}>
                {wording.theLastDay}
              </h2>
              <OrderLog order={undefined} />
            </>
          )}
        </div>
      </div>
    </Frame>
  );
}

function OneOrder({ id, side }: { id: number; side: React.ReactNode }) {
  const { view, problem, keeping, change, inTurn } = useOrder(id);
  const choices = useChoices();
  const [tab, setTab] = useState<'rehearsal' | 'log'>();
  const order = view.data;
  const shown = tab ?? (order?.state === 'off' ? 'rehearsal' : 'log');
  return (
    <Frame>
      <div className="head">
        {order && (
          <>
            <div style={{ flex: 1, minWidth: 0 }}>
              <h1>
                <b>
                  <Part
                    plain
                    label={wording.renameOrDeleteThe}
                    editor={(close) => (
                      <NameEditor order={order} onName={(name) => (change({ name }), close())} />
                    )}
                  >
                    {order.name}
                  </Part>
                </b>
              </h1>
              <Small suppressHydrationWarning>
                {stateLine(order)}
                {keeping && wording.saving}
              </Small>
            </div>
            {order.canUndo && (
              <QuietButton
                onPress={() =>
                  void inTurn(({ version }) =>
                    ask('undoOrder', { params: { id }, body: { version } }),
                  )
                }
              >
                {wording.undoLastChange}
              </QuietButton>
            )}
            <Switch order={order} inTurn={inTurn} />
          </>
        )}
      </div>
      <div className="two">
        {side}
        <div className="main">
          {view.error && <ErrorLine>{view.error.message}</ErrorLine>}
          {order?.why && <ErrorLine>{order.why}</ErrorLine>}
          {problem && <ErrorLine>{problem}</ErrorLine>}
          {order && choices.data && (
            <>
              <OrderSentence
                held={heldOf(order, choices.data, (document) => change({ document }))}
              />
              {order.document.when.kind === 'call' && <CallPart order={order} />}
              <div className="tabs">
                <button
                  type="button"
                  aria-pressed={shown === 'rehearsal'}
                  onClick={() => setTab('rehearsal')}
                >
                  {wording.rehearsal}
                </button>
                <button type="button" aria-pressed={shown === 'log'} onClick={() => setTab('log')}>
                  {wording.whatItDid}
                </button>
              </div>
              {shown === 'rehearsal' ? (
                <Rehearsal view={order} wait={keeping} />
              ) : (
                <OrderLog order={id} />
              )}
            </>
          )}
        </div>
      </div>
    </Frame>
  );
}

function stateLine(order: OrderView): string {
  const state =
    order.state === 'stopped'
      ? wording.stoppedByItsSafety
      : order.state === 'off'
        ? 'off'
        : order.pausedUntil
          ? filled(wording.pausedUntil, when(order.pausedUntil))
          : order.next
            ? filled(wording.onNext, when(order.next))
            : 'on';
  return filled(wording.aStandingOrderLast, state, when(order.changedAt), order.changedBy);
}

function Switch({
  order,
  inTurn,
}: {
  order: OrderView;
  inTurn: (work: () => Promise<OrderView>) => Promise<void>;
}) {
  const set = (state: 'on' | 'off', pausedUntil: string | null = null) =>
    inTurn(() => ask('switchOrder', { params: { id: order.id }, body: { state, pausedUntil } }));
  if (order.state !== 'on')
    return (
      <MainButton isDisabled={order.trouble !== null} onPress={() => void set('on')}>
        {wording.turnOn}
      </MainButton>
    );
  return (
    <>
      {order.pausedUntil ? (
        <QuietButton onPress={() => void set('on')}>{wording.resume}</QuietButton>
      ) : (
        <DialogTrigger>
          <QuietButton>{wording.pauseUntil}</QuietButton>
          <Pop placement="bottom end" offset={4}>
            <Editor aria-label={wording.pauseUntilADay}>
              {({ close }) => <Pause onUse={(day) => (void set('on', day), close())} />}
            </Editor>
          </Pop>
        </DialogTrigger>
      )}
      <QuietButton onPress={() => void set('off')}>{wording.turnOff}</QuietButton>
    </>
  );
}

function Pause({ onUse }: { onUse: (until: string) => void }) {
  const [day, setDay] = useState('');
  const until = new Date(`${day}T00:00`);
  const right = !Number.isNaN(until.getTime()) && until.getTime() > Date.now();
  return (
    <div style={{ display: 'grid', gap: 10, width: 260 }}>
      <Words label={wording.untilWhichDay} type="date" value={day} onChange={setDay} autoFocus />
      <Small>{wording.whatHappensUntilThen}</Small>
      <div>
        <MainButton isDisabled={!right} onPress={() => onUse(until.toISOString())}>
          {wording.pause}
        </MainButton>
      </div>
    </div>
  );
}

function NameEditor({ order, onName }: { order: OrderView; onName: (name: string) => void }) {
  const router = useRouter();
  const client = useQueryClient();
  const [name, setName] = useState(order.name);
  const ready = name.trim() !== '' && name.trim() !== order.name;
  return (
    <div style={{ display: 'grid', gap: 12, width: 340 }}>
      <Words
        label={wording.name}
        value={name}
        onChange={setName}
        autoFocus
        onEnter={() => ready && onName(name.trim())}
      />
      <div>
        <MainButton isDisabled={!ready} onPress={() => onName(name.trim())}>
          {wording.rename}
        </MainButton>
      </div>
      <ThrowAway
        what={wording.theOrder}
        says={filled(wording.thisDeletesAndIts, order.name)}
        onThrow={async () => {
          await ask('removeOrder', { params: { id: order.id } });
          await client.invalidateQueries({ queryKey: ['orders'] });
          router.push('/orders');
        }}
      />
    </div>
  );
}
