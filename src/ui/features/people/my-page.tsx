'use client';

import { startRegistration } from '@simplewebauthn/browser';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { styled } from 'styled-components';
import { shortestPassword } from '../../../core/access/passwords';
import { ask } from '../../kit/api';
import {
  ErrorLine,
  MainButton,
  PlainButton,
  QuietButton,
  Sentence,
  Small,
  Words,
} from '../../kit/controls';
import { when } from '../../kit/dates';
import { Page, PartTitle, Table } from '../../kit/index-table';
import { MayContext, useMe } from '../../kit/me';
import { colour, font } from '../../kit/theme';
import { myPage as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/** A browser's description of itself, in a few words. */
function agentWords(agent: string): string {
  const browser =
    /Edg\//.exec(agent) !== null
      ? 'Edge'
      : (/(Firefox|Chrome|Chromium|Safari)\//.exec(agent)?.[1] ?? wording.anotherProgram);
  const system = /(Android|iPhone|iPad|Windows|Mac OS X|Linux)/.exec(agent)?.[1];
  return system ? `${browser}, ${system}` : browser;
}

/**
 * A person's own sign-in methods, and where they are signed in. Everybody may change their own.
 */
export function MyPage() {
  const me = useMe();
  const { data, error, refetch } = useQuery({
    queryKey: ['my-sign-in'],
    queryFn: () => ask('viewSignIn'),
  });
  const [problem, setProblem] = useState<string>();
  const [said, setSaid] = useState<string>();
  const act = (work: () => Promise<unknown>, words: string) =>
    void work()
      .then(() => (setProblem(undefined), setSaid(words)))
      .catch(
        (e: unknown) => (
          setSaid(undefined),
          setProblem(e instanceof Error ? e.message : String(e))
        ),
      )
      .finally(() => void refetch());
  return (
    <MayContext.Provider value="administrator">
      <Page>
        <header>
          <h1>{wording.yourSignIn}</h1>
        </header>
        <Sentence style={{ maxWidth: 760 }}>
          {withParts(wording.youAreAndSign, <b>{me?.person.name}</b>, <b>{me?.person.email}</b>)}
        </Sentence>
        {(problem ?? error?.message) && (
          <ErrorLine role="alert">{problem ?? error?.message}</ErrorLine>
        )}
        {said && <p role="status">{said}</p>}
        <PartTitle>{wording.password}</PartTitle>
        <Password
          onChange={(body) =>
            act(() => ask('changePassword', { body }), wording.passwordChangedYouAre)
          }
        />
        <PartTitle>{wording.passkeys}</PartTitle>
        {data?.passkeys.map((key) => (
          <Sentence $minor key={key.id}>
            <b>{key.name}</b>
            {key.made && (
              <span suppressHydrationWarning>{withParts(wording.made, when(key.made))}</span>
            )}{' '}
            <PlainButton
              aria-label={filled(wording.removePasskey, key.name)}
              onPress={() =>
                act(
                  () => ask('removePasskey', { params: { id: key.id } }),
                  wording.passkeyRemovedItCannot,
                )
              }
            >
              {wording.remove}
            </PlainButton>
          </Sentence>
        ))}
        {data && (
          <NewPasskey
            here={data.passkeysHere}
            onMake={(name) =>
              act(async () => {
                const options = await ask('newPasskeyOptions');
                const response = await startRegistration({ optionsJSON: options as never }).catch(
                  () => {
                    throw new Error(wording.noPasskeyWasAdded);
                  },
                );
                await ask('addPasskey', { body: { name, response: { ...response } } });
              }, wording.passkeyAddedYouCan)
            }
          />
        )}
        <PartTitle>{wording.twoStepSignIn}</PartTitle>
        {data && <SecondFactor on={data.secondFactor} onChanged={() => void refetch()} />}
        <PartTitle>{wording.whereYouAreSigned}</PartTitle>
        {data && data.sessions.length === 0 && <Sentence $minor>{wording.youUseTheDemo}</Sentence>}
        {data && data.sessions.length > 0 && (
          <Table style={{ maxWidth: 760 }}>
            <thead>
              <tr>
                <th>{wording.browser}</th>
                <th>{wording.since}</th>
                <th>{wording.lastUsed}</th>
                <th aria-label={wording.signOut} />
              </tr>
            </thead>
            <tbody>
              {data.sessions.map((session) => (
                <tr key={session.id}>
                  <td>
                    {agentWords(session.agent)}
                    {session.here && wording.thisBrowser}
                  </td>
                  <td suppressHydrationWarning>{when(session.begun)}</td>
                  <td suppressHydrationWarning>{when(session.used)}</td>
                  <td className="n">
                    {!session.here && (
                      <PlainButton
                        aria-label={filled(wording.signOut2, agentWords(session.agent))}
                        onPress={() =>
                          act(
                            () => ask('endSession', { params: { id: session.id } }),
                            wording.youAreSignedOut,
                          )
                        }
                      >
                        {wording.signOut}
                      </PlainButton>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        )}
        {data && data.sessions.length > 1 && (
          <PlainButton
            style={{ padding: '8px 0', textDecoration: 'underline' }}
            onPress={() => act(() => ask('endOtherSessions'), wording.youAreSignedOutEverywhere)}
          >
            {wording.signOutEverywhereElse}
          </PlainButton>
        )}
      </Page>
    </MayContext.Provider>
  );
}

const Form = styled.form`
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: end;
  max-width: 760px;
`;

function Password({ onChange }: { onChange: (body: { now: string; next: string }) => void }) {
  const [now, setNow] = useState('');
  const [next, setNext] = useState('');
  return (
    <Form
      onSubmit={(e) => {
        e.preventDefault();
        onChange({ now, next });
        setNow('');
        setNext('');
      }}
    >
      <Words
        label={wording.currentPassword}
        type="password"
        autoComplete="current-password"
        value={now}
        onChange={setNow}
      />
      <Words
        label={filled(wording.newPasswordAtLeast, shortestPassword)}
        type="password"
        autoComplete="new-password"
        value={next}
        onChange={setNext}
      />
      <QuietButton type="submit" isDisabled={now === '' || next === ''}>
        {wording.changePassword}
      </QuietButton>
    </Form>
  );
}

function NewPasskey({ here, onMake }: { here: boolean; onMake: (name: string) => void }) {
  const [name, setName] = useState('');
  if (!here) return <Small>{wording.passkeysNeedAWeb}</Small>;
  return (
    <Form
      onSubmit={(e) => {
        e.preventDefault();
        onMake(name);
        setName('');
      }}
    >
      <Words label={wording.nameOfThePasskey} value={name} onChange={setName} />
      <QuietButton type="submit" isDisabled={name.trim() === ''}>
        {wording.addPasskey}
      </QuietButton>
    </Form>
  );
}

const Begun = styled.div`
  display: flex;
  gap: 24px;
  align-items: start;
  max-width: 820px;
  .code {
    background: #fff;
    padding: 12px;
    border: 1px solid ${colour.rule};
    flex: none;
  }
  .code svg {
    display: block;
    width: 180px;
    height: 180px;
  }
  ol {
    columns: 2;
    font: 14px/1.7 ${font.code};
    margin: 0;
    padding-left: 26px;
  }
`;

function SecondFactor({ on, onChanged }: { on: boolean; onChanged: () => void }) {
  const [password, setPassword] = useState('');
  const [code, setCode] = useState('');
  const [begun, setBegun] = useState<{ address: string; spares: string[] }>();
  const [problem, setProblem] = useState<string>();
  const act = (work: Promise<unknown>) =>
    void work
      .then(() => setProblem(undefined))
      .catch((e: unknown) => setProblem(e instanceof Error ? e.message : String(e)))
      .finally(onChanged);
  if (begun && !on)
    return (
      <Begun>
        <div className="code">
          <AppCode address={begun.address} />
        </div>
        <div style={{ display: 'grid', gap: 12 }}>
          <p>
            {withParts(
              wording.scanThisWithYour,
              <code style={{ overflowWrap: 'anywhere' }}>
                {new URL(begun.address).searchParams.get('secret')}
              </code>,
            )}
          </p>
          <Form
            onSubmit={(e) => {
              e.preventDefault();
              act(ask('confirmSecondFactor', { body: { code } }));
              setCode('');
            }}
          >
            <Words
              label={wording.the6DigitsIn}
              autoComplete="one-time-code"
              value={code}
              onChange={setCode}
            />
            <MainButton type="submit" isDisabled={code === ''}>
              {wording.confirmAndTurnOn}
            </MainButton>
          </Form>
          {problem && <ErrorLine role="alert">{problem}</ErrorLine>}
          <div>
            <Small>{wording.backupCodesInCase}</Small>
            <ol>
              {begun.spares.map((spare) => (
                <li key={spare}>{spare}</li>
              ))}
            </ol>
          </div>
        </div>
      </Begun>
    );
  return (
    <div style={{ display: 'grid', gap: 10 }}>
      <Sentence $minor>{on ? wording.twoStepSignInIs : wording.twoStepSignInIsOff}</Sentence>
      <Form
        onSubmit={(e) => {
          e.preventDefault();
          setPassword('');
          act(
            on
              ? ask('stopSecondFactor', { body: { password } }).then(() => setBegun(undefined))
              : ask('startSecondFactor', { body: { password } }).then(setBegun),
          );
        }}
      >
        <Words
          label={wording.yourPassword}
          type="password"
          autoComplete="current-password"
          value={password}
          onChange={setPassword}
        />
        <QuietButton type="submit" isDisabled={password === ''}>
          {on ? wording.turnOff : wording.turnOn}
        </QuietButton>
      </Form>
      {problem && <ErrorLine role="alert">{problem}</ErrorLine>}
    </div>
  );
}

/** The setup code for the app, drawn here: its content goes nowhere else. */
function AppCode({ address }: { address: string }) {
  const [svg, setSvg] = useState<string>();
  useEffect(() => {
    void import('../../../core').then(({ encode, renderSvg }) =>
      setSvg(renderSvg(encode('qr', address), { foreground: '#000000' })),
    );
  }, [address]);
  return (
    <div
      role="img"
      aria-label={wording.codeForTheApp}
      dangerouslySetInnerHTML={svg === undefined ? undefined : { __html: svg }}
    />
  );
}
