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

/** What a browser says of itself, in a few words. */
function agentWords(agent: string): string {
  const browser =
    /Edg\//.exec(agent) !== null
      ? 'Edge'
      : (/(Firefox|Chrome|Chromium|Safari)\//.exec(agent)?.[1] ?? 'another program');
  const system = /(Android|iPhone|iPad|Windows|Mac OS X|Linux)/.exec(agent)?.[1];
  return system ? `${browser}, ${system}` : browser;
}

/** How one signs in oneself, and where one is signed in. Everybody may change that of their own. */
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
          <h1>Your sign-in</h1>
        </header>
        <Sentence style={{ maxWidth: 760 }}>
          You are <b>{me?.person.name}</b> and sign in as <b>{me?.person.email}</b>.
        </Sentence>
        {(problem ?? error?.message) && (
          <ErrorLine role="alert">{problem ?? error?.message}</ErrorLine>
        )}
        {said && <p role="status">{said}</p>}
        <PartTitle>Password</PartTitle>
        <Password
          onChange={(body) =>
            act(
              () => ask('changePassword', { body }),
              'Password changed. You are signed out everywhere else.',
            )
          }
        />
        <PartTitle>Passkeys</PartTitle>
        {data?.passkeys.map((key) => (
          <Sentence $minor key={key.id}>
            <b>{key.name}</b>
            {key.made && <span suppressHydrationWarning>, made {when(key.made)}</span>}{' '}
            <PlainButton
              aria-label={`Remove passkey ${key.name}`}
              onPress={() =>
                act(
                  () => ask('removePasskey', { params: { id: key.id } }),
                  'Passkey removed. It cannot be used to sign in.',
                )
              }
            >
              Remove
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
                    throw new Error('No passkey was added.');
                  },
                );
                await ask('addPasskey', { body: { name, response: { ...response } } });
              }, 'Passkey added. You can sign in with it now.')
            }
          />
        )}
        <PartTitle>Two-step sign-in</PartTitle>
        {data && <SecondFactor on={data.secondFactor} onChanged={() => void refetch()} />}
        <PartTitle>Where you are signed in</PartTitle>
        {data && data.sessions.length === 0 && (
          <Sentence $minor>You use the demo on this computer without signing in.</Sentence>
        )}
        {data && data.sessions.length > 0 && (
          <Table style={{ maxWidth: 760 }}>
            <thead>
              <tr>
                <th>Browser</th>
                <th>Since</th>
                <th>Last used</th>
                <th aria-label="Sign out" />
              </tr>
            </thead>
            <tbody>
              {data.sessions.map((session) => (
                <tr key={session.id}>
                  <td>
                    {agentWords(session.agent)}
                    {session.here && ' (this browser)'}
                  </td>
                  <td suppressHydrationWarning>{when(session.begun)}</td>
                  <td suppressHydrationWarning>{when(session.used)}</td>
                  <td className="n">
                    {!session.here && (
                      <PlainButton
                        aria-label={`Sign out ${agentWords(session.agent)}`}
                        onPress={() =>
                          act(
                            () => ask('endSession', { params: { id: session.id } }),
                            'You are signed out there.',
                          )
                        }
                      >
                        Sign out
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
            onPress={() =>
              act(() => ask('endOtherSessions'), 'You are signed out everywhere else.')
            }
          >
            Sign out everywhere else
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
        label="Current password"
        type="password"
        autoComplete="current-password"
        value={now}
        onChange={setNow}
      />
      <Words
        label={`New password, at least ${shortestPassword} characters`}
        type="password"
        autoComplete="new-password"
        value={next}
        onChange={setNext}
      />
      <QuietButton type="submit" isDisabled={now === '' || next === ''}>
        Change password
      </QuietButton>
    </Form>
  );
}

function NewPasskey({ here, onMake }: { here: boolean; onMake: (name: string) => void }) {
  const [name, setName] = useState('');
  if (!here)
    return (
      <Small>
        Passkeys need a web address with a name, not a number. Open Hand Stamp by its name, such as
        localhost, to add one.
      </Small>
    );
  return (
    <Form
      onSubmit={(e) => {
        e.preventDefault();
        onMake(name);
        setName('');
      }}
    >
      <Words label="Name of the passkey, such as My phone" value={name} onChange={setName} />
      <QuietButton type="submit" isDisabled={name.trim() === ''}>
        Add passkey
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
            Scan this with your authenticator app, then enter the 6 digits it shows. If the app has
            no camera, enter this key:{' '}
            <code style={{ overflowWrap: 'anywhere' }}>
              {new URL(begun.address).searchParams.get('secret')}
            </code>
          </p>
          <Form
            onSubmit={(e) => {
              e.preventDefault();
              act(ask('confirmSecondFactor', { body: { code } }));
              setCode('');
            }}
          >
            <Words
              label="The 6 digits in your app"
              autoComplete="one-time-code"
              value={code}
              onChange={setCode}
            />
            <MainButton type="submit" isDisabled={code === ''}>
              Confirm and turn on
            </MainButton>
          </Form>
          {problem && <ErrorLine role="alert">{problem}</ErrorLine>}
          <div>
            <Small>
              Backup codes, in case you lose your phone. Each works once. Write them down now: they
              are not shown again.
            </Small>
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
      <Sentence $minor>
        {on
          ? 'Two-step sign-in is on. After your password you enter a code from your app.'
          : 'Two-step sign-in is off. Turn it on to also need a code from an app on your phone.'}
      </Sentence>
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
          label="Your password"
          type="password"
          autoComplete="current-password"
          value={password}
          onChange={setPassword}
        />
        <QuietButton type="submit" isDisabled={password === ''}>
          {on ? 'Turn off' : 'Turn on'}
        </QuietButton>
      </Form>
      {problem && <ErrorLine role="alert">{problem}</ErrorLine>}
    </div>
  );
}

/** The code for the app, drawn here: what is in it goes nowhere else. */
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
      aria-label="Code for the app"
      dangerouslySetInnerHTML={svg === undefined ? undefined : { __html: svg }}
    />
  );
}
