'use client';

import { useQuery } from '@tanstack/react-query';
import { Link } from '../../kit/link';
import { useState } from 'react';
import { styled } from 'styled-components';
import type { PeopleView } from '../../../contract';
import { rights, rightWords, type Right } from '../../../core/access/rights';
import { ask } from '../../kit/api';
import {
  Check,
  ChoicePart,
  ErrorLine,
  MainButton,
  Part,
  PlainButton,
  QuietButton,
  Sentence,
  Small,
  Words,
} from '../../kit/controls';
import { copyText, notCopied } from '../../kit/copy';
import { when } from '../../kit/dates';
import { Page, PartTitle, Table } from '../../kit/index-table';
import { useMe } from '../../kit/me';
import { colour, font } from '../../kit/theme';
import { peoplePage as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const rightChoices = [...rights]
  .reverse()
  .map((right) => ({ id: right, name: rightWords[right].role, about: rightWords[right].about }));

/** The people of this installation, their roles, and the invitations. */
export function PeoplePage() {
  const me = useMe();
  const { data, error, refetch } = useQuery({
    queryKey: ['people'],
    queryFn: () => ask('listPeople'),
  });
  const [problem, setProblem] = useState<string>();
  const [made, setMade] = useState<Made>();
  const act = (work: Promise<unknown>) =>
    void work
      .then(() => setProblem(undefined))
      .catch((e: unknown) => setProblem(e instanceof Error ? e.message : String(e)))
      .finally(() => void refetch());
  const change = (id: string, body: { right?: Right; ended?: boolean }) =>
    act(ask('changePerson', { params: { id }, body }));
  const here = data?.people.filter((p) => !p.ended) ?? [];
  const gone = data?.people.filter((p) => p.ended) ?? [];
  return (
    <Page>
      <header>
        <h1>{wording.people}</h1>
        <Link href="/journal">{wording.openTheJournalWho}</Link>
      </header>
      {(problem ?? error?.message) && (
        <ErrorLine role="alert">{problem ?? error?.message}</ErrorLine>
      )}
      {made && <MadeAddress made={made} onDone={() => setMade(undefined)} />}
      {data && (
        <Table style={{ maxWidth: 1040 }}>
          <thead>
            <tr>
              <th>{wording.person}</th>
              <th>{wording.emailAddress}</th>
              <th>{wording.role}</th>
              <th>{wording.twoStepSignIn}</th>
              <th>{wording.lastSeen}</th>
              <th aria-label={wording.actions} />
            </tr>
          </thead>
          <tbody>
            {here.map((person) => (
              <tr key={person.id}>
                <td>
                  <b>{person.name}</b>
                  {person.id === me?.person.id && ' (you)'}
                </td>
                <td>{person.email}</td>
                <td>
                  <ChoicePart
                    label={filled(wording.roleOf, person.name)}
                    value={person.right}
                    choices={rightChoices}
                    onChange={(right) => change(person.id, { right })}
                  />
                </td>
                <td>{person.secondFactor ? wording.on : wording.off}</td>
                <td suppressHydrationWarning>{person.seen ? when(person.seen) : wording.never}</td>
                <td className="n">
                  <Part
                    plain
                    label={filled(wording.changePasswordAccount, person.name)}
                    editor={(close) => (
                      <Changes
                        person={person}
                        onMade={(m) => (setMade(m), close())}
                        onEnd={() => (change(person.id, { ended: true }), close())}
                        onProblem={(p) => (setProblem(p), close())}
                      />
                    )}
                  >
                    {wording.change}
                  </Part>
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      {data && data.invited.length > 0 && (
        <>
          <PartTitle>{wording.invitedNotSignedIn}</PartTitle>
          <Table style={{ maxWidth: 1040 }}>
            <thead>
              <tr>
                <th>{wording.person}</th>
                <th>{wording.emailAddress}</th>
                <th>{wording.role}</th>
                <th>{wording.invitedBy}</th>
                <th>{wording.expires}</th>
                <th aria-label={wording.cancel} />
              </tr>
            </thead>
            <tbody>
              {data.invited.map((one) => (
                <tr key={one.id}>
                  <td>{one.name}</td>
                  <td>{one.email}</td>
                  <td>{rightWords[one.right].role}</td>
                  <td>{one.by}</td>
                  <td suppressHydrationWarning>{when(one.until)}</td>
                  <td className="n">
                    <PlainButton
                      aria-label={filled(wording.cancelInvitationOf, one.name)}
                      onPress={() => act(ask('takeBackInvitation', { params: { id: one.id } }))}
                    >
                      {wording.cancelInvitation}
                    </PlainButton>
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </>
      )}
      <PartTitle>{wording.inviteSomeone}</PartTitle>
      <Invite onMade={(m) => (setMade(m), void refetch())} />
      {gone.length > 0 && (
        <>
          <PartTitle>{wording.deactivatedPeople}</PartTitle>
          <Sentence $minor style={{ maxWidth: 760 }}>
            {wording.theyCannotSignIn}
          </Sentence>
          <Table style={{ maxWidth: 620 }}>
            <tbody>
              {gone.map((person) => (
                <tr key={person.id}>
                  <td>{person.name}</td>
                  <td>{person.email}</td>
                  <td className="n">
                    <PlainButton
                      aria-label={filled(wording.reactivate2, person.name)}
                      onPress={() => change(person.id, { ended: false })}
                    >
                      {wording.reactivate}
                    </PlainButton>
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </>
      )}
    </Page>
  );
}

interface Made {
  for: string;
  address: string;
  mailed: boolean;
}

const Address = styled.div`
  background: ${colour.paper};
  border: 1px solid ${colour.ink};
  border-radius: 3px;
  padding: 12px 16px;
  margin-bottom: 16px;
  max-width: 1040px;
  display: grid;
  gap: 8px;
  code {
    font: 14px/1.4 ${font.code};
    overflow-wrap: anywhere;
  }
`;

/** A sign-in link, shown this one time. */
function MadeAddress({ made, onDone }: { made: Made; onDone: () => void }) {
  const [copied, setCopied] = useState<boolean>();
  return (
    <Address role="status">
      <p>
        {made.mailed
          ? filled(wording.weSentAnEmail, made.for)
          : filled(wording.giveThisLinkTo, made.for)}
      </p>
      <code>{made.address}</code>
      <div style={{ display: 'flex', gap: 8, alignItems: 'center' }}>
        <QuietButton onPress={() => void copyText(made.address).then(setCopied)}>
          {wording.copyLink}
        </QuietButton>
        <PlainButton onPress={onDone}>{wording.close}</PlainButton>
        {copied !== undefined && <Small role="status">{copied ? 'Copied.' : notCopied}</Small>}
      </div>
      <Small>{wording.thisLinkIsNot}</Small>
    </Address>
  );
}

function Invite({ onMade }: { onMade: (made: Made) => void }) {
  const [name, setName] = useState('');
  const [email, setEmail] = useState('');
  const [right, setRight] = useState<Right>('viewer');
  const [mail, setMail] = useState(true);
  const [problem, setProblem] = useState<string>();
  const [busy, setBusy] = useState(false);
  return (
    <form
      style={{ display: 'grid', gap: 11, maxWidth: 620 }}
      onSubmit={(e) => {
        e.preventDefault();
        if (busy) return;
        setBusy(true);
        ask('invite', { body: { name, email, right, mail } })
          .then(
            (made) => {
              onMade({ for: name, ...made });
              setName('');
              setEmail('');
              setProblem(undefined);
            },
            (error: unknown) => setProblem(error instanceof Error ? error.message : String(error)),
          )
          .finally(() => setBusy(false));
      }}
    >
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 14 }}>
        <Words label={wording.theirName} value={name} onChange={setName} />
        <Words label={wording.theirEmailAddress} type="email" value={email} onChange={setEmail} />
      </div>
      <Sentence $minor>
        {withParts(
          wording.theirRoleIs,
          <ChoicePart
            label={wording.role}
            value={right}
            choices={rightChoices}
            onChange={setRight}
          />,
        )}
      </Sentence>
      <Small>{rightWords[right].about}</Small>
      <Check on={mail} onChange={setMail}>
        {wording.sendTheInvitationBy}
      </Check>
      {problem && <ErrorLine role="alert">{problem}</ErrorLine>}
      <div>
        <MainButton type="submit" isDisabled={busy || name.trim() === '' || email.trim() === ''}>
          {wording.invitePerson}
        </MainButton>
      </div>
    </form>
  );
}

function Changes({
  person,
  onMade,
  onEnd,
  onProblem,
}: {
  person: PeopleView['people'][number];
  onMade: (made: Made) => void;
  onEnd: () => void;
  onProblem: (words: string) => void;
}) {
  const [asked, setAsked] = useState(false);
  return (
    <div style={{ display: 'grid', gap: 10, maxWidth: 360 }}>
      <QuietButton
        onPress={() =>
          void ask('resetPerson', {
            params: { id: person.id },
            body: { mail: true },
          }).then(
            (made) => onMade({ for: person.name, ...made }),
            (error: unknown) => onProblem(error instanceof Error ? error.message : String(error)),
          )
        }
      >
        {wording.sendPasswordResetLink}
      </QuietButton>
      {asked ? (
        <>
          <p>{withParts(wording.isSignedOutEverywhere, person.name)}</p>
          <div style={{ display: 'flex', gap: 8 }}>
            <QuietButton onPress={onEnd}>{wording.deactivate}</QuietButton>
            <PlainButton onPress={() => setAsked(false)}>{wording.cancel}</PlainButton>
          </div>
        </>
      ) : (
        <PlainButton
          style={{ justifySelf: 'start', padding: '2px 0', textDecoration: 'underline' }}
          onPress={() => setAsked(true)}
        >
          {withParts(wording.deactivate2, person.name)}
        </PlainButton>
      )}
    </div>
  );
}
