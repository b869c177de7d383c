'use client';
import { counted } from '../../../core/base/words';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Dialog, DialogTrigger, Heading } from 'react-aria-components';
import { styled } from 'styled-components';
import type { RunView } from '../../../contract';
import { mailStateWords, type MailState } from '../../../core/mail/states';
import { ask } from '../../kit/api';
import { ErrorLine, PlainButton, QuietButton, Small } from '../../kit/controls';
import { when } from '../../kit/dates';
import { Table } from '../../kit/index-table';
import { Mark, type MarkName } from '../../kit/mark';
import { useJob } from '../../shell/ledger/context';
import { Card, Veil } from '../../shell/shortcuts';
import { mailAccount as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const marks: Record<MailState, MarkName> = {
  waiting: 'none',
  handing: 'none',
  sent: 'ready',
  refused: 'failed',
  unsure: 'look',
  held: 'look',
  stopped: 'out',
};
const told: readonly MailState[] = ['unsure', 'refused', 'held', 'stopped'];
const again = {
  stopped: { name: wording.sendTheUnsentEmails, sure: false },
  refused: { name: wording.retryTheRefusedEmails, sure: false },
  unsure: { name: wording.resendTheUncertainEmails, sure: true },
} as const;

/**
 * How far the mails of a run are and what came of them; stopped, sent after all, looked at one by
 * one.
 */
export function MailAccount({ run }: { run: RunView }) {
  const { setProblem } = useJob();
  const client = useQueryClient();
  const { mail } = run;
  if (!mail || run.state !== 'done') return null;
  const { counts } = mail;
  const left = counts.waiting + counts.handing;
  const all = Object.values(counts).reduce((sum, n) => sum + n, 0);
  const act = (work: Promise<unknown>) =>
    void work.then(
      () => client.invalidateQueries({ queryKey: ['runs'] }),
      (e: unknown) => setProblem(e instanceof Error ? e.message : String(e)),
    );
  return (
    <>
      {left > 0 && (
        <>
          <progress max={all} value={all - left} aria-label={filled(wording.emailsOf, run.name)} />
          <div className="state" style={{ justifyContent: 'space-between' }}>
            <span>
              {withParts(wording.ofSent, counts.sent.toLocaleString('en'), counted(all, 'email'))}
            </span>
            <QuietButton
              onPress={() => act(ask('stopMails', { params: { id: run.id } }))}
              aria-label={wording.stopSending}
            >
              {wording.stop}
            </QuietButton>
          </div>
        </>
      )}
      {mail.trouble && <ErrorLine>{mail.trouble}</ErrorLine>}
      {left === 0 && counts.sent > 0 && (
        <p className="state">
          {withParts(
            wording.sent,
            <Mark name="ready" />,
            counted(counts.sent, 'email'),
            mail.trial && filled(wording.toInstead, mail.trial),
          )}
        </p>
      )}
      {told
        .filter((state) => counts[state] > 0)
        .map((state) => (
          <p className="state" key={state}>
            <Mark name={marks[state]} /> {counts[state].toLocaleString('en')}{' '}
            {mailStateWords[state]}
          </p>
        ))}
      <div className="row">
        <DialogTrigger>
          <PlainButton looks style={{ padding: 0 }}>
            {wording.emailByEmail}
          </PlainButton>
          <Veil isDismissable>
            <Card>
              <Lines run={run} />
            </Card>
          </Veil>
        </DialogTrigger>
        {left === 0 &&
          (Object.keys(again) as (keyof typeof again)[])
            .filter((which) => counts[which] > 0)
            .map((which) => (
              <PlainButton
                key={which}
                style={{ padding: 0 }}
                onPress={() =>
                  act(ask('sendMailsAgain', { params: { id: run.id }, body: { which } }))
                }
              >
                {again[which].name}
              </PlainButton>
            ))}
      </div>
    </>
  );
}

const Sheet = styled(Dialog)`
  outline: none;
  padding: 20px 24px 22px;
  width: min(900px, calc(100vw - 80px));
  display: grid;
  gap: 12px;
`;

function Lines({ run }: { run: RunView }) {
  const { data, error } = useQuery({
    queryKey: ['mails', run.id],
    queryFn: () => ask('listMails', { params: { id: run.id } }),
    refetchInterval: 2000,
  });
  return (
    <Sheet>
      <Heading slot="title">{withParts(wording.emailsOf, run.name)}</Heading>
      {error && <ErrorLine>{error.message}</ErrorLine>}
      <div style={{ maxHeight: 460, overflow: 'auto' }}>
        <Table>
          <thead>
            <tr>
              <th>{wording.record}</th>
              <th>{wording.emailAddress}</th>
              <th>{wording.email}</th>
              <th>{wording.when}</th>
            </tr>
          </thead>
          <tbody>
            {data?.mails.map((line, i) => (
              <tr key={i}>
                <td>{line.title || wording.noTitle}</td>
                <td style={{ overflowWrap: 'anywhere' }}>{line.address}</td>
                <td style={{ paddingBlock: 6 }}>
                  <Mark name={marks[line.state]} /> {mailStateWords[line.state]}
                  {line.state !== 'sent' && line.reply && <Small>{line.reply}</Small>}
                </td>
                <td style={{ whiteSpace: 'nowrap' }}>{line.at && when(line.at)}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      </div>
      <a href={`/api/runs/${run.id}/mails/account`} download>
        {wording.downloadAllAsCSV}
      </a>
    </Sheet>
  );
}
