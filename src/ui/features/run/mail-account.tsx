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
  stopped: { name: 'Send the unsent emails', sure: false },
  refused: { name: 'Retry the refused emails', sure: false },
  unsure: { name: 'Resend the uncertain emails (they may arrive twice)', sure: true },
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
          <progress max={all} value={all - left} aria-label={`Emails of ${run.name}`} />
          <div className="state" style={{ justifyContent: 'space-between' }}>
            <span>
              {counts.sent.toLocaleString('en')} of {counted(all, 'email')} sent
            </span>
            <QuietButton
              onPress={() => act(ask('stopMails', { params: { id: run.id } }))}
              aria-label="Stop sending"
            >
              Stop
            </QuietButton>
          </div>
        </>
      )}
      {mail.trouble && <ErrorLine>{mail.trouble}</ErrorLine>}
      {left === 0 && counts.sent > 0 && (
        <p className="state">
          <Mark name="ready" /> {counted(counts.sent, 'email')} sent
          {mail.trial && `, to ${mail.trial} instead`}
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
            Email by email
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
      <Heading slot="title">Emails of {run.name}</Heading>
      {error && <ErrorLine>{error.message}</ErrorLine>}
      <div style={{ maxHeight: 460, overflow: 'auto' }}>
        <Table>
          <thead>
            <tr>
              <th>Record</th>
              <th>Email address</th>
              <th>Email</th>
              <th>When</th>
            </tr>
          </thead>
          <tbody>
            {data?.mails.map((line, i) => (
              <tr key={i}>
                <td>{line.title || '(no title)'}</td>
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
        Download all as CSV
      </a>
    </Sheet>
  );
}
