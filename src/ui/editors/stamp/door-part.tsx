'use client';
import { counted } from '../../../core/base/words';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useContext, useState } from 'react';
import type { DoorReport } from '../../../contract';
import { doorStateWords, type DoorState } from '../../../core/payload/door';
import { purposeOf } from '../../../core/payload/purposes';
import type { Stamp } from '../../../core/payload/stamp';
import { ask } from '../../kit/api';
import { ErrorLine, Part, PlainButton, QuietButton, Small } from '../../kit/controls';
import { JobScreenContext } from '../../shell/ledger/context';
import { Mark, type MarkName } from '../../kit/mark';
import { colour, font } from '../../kit/theme';
import { useBench } from './bench';
import { doorPart as wording } from './words';
import { withParts } from '../../kit/with-parts';

const stateMarks: Record<DoorState, MarkName> = {
  opens: 'ready',
  redirected: 'look',
  'sign-in': 'look',
  'not-found': 'failed',
  fails: 'failed',
  'no-answer': 'failed',
  'not-asked': 'out',
};
const order: readonly DoorState[] = [
  'not-found',
  'fails',
  'no-answer',
  'sign-in',
  'redirected',
  'not-asked',
  'opens',
];

/**
 * Checks where the codes of the whole list lead, from the addresses alone and, with consent, by
 * opening each of them.
 */
export function DoorPart({ stamp }: { stamp: Stamp }) {
  const { job } = useBench();
  if (!job || !purposeOf(stamp.does).opens) return null;
  return (
    <Part
      acts
      label={wording.willItWorkWhenScanned}
      editor={(close) => <DoorAccount stamp={stamp} close={close} />}
    >
      {wording.willItWorkWhen}
    </Part>
  );
}

function DoorAccount({ stamp, close }: { stamp: Stamp; close: () => void }) {
  const { job } = useBench();
  const client = useQueryClient();
  const [problem, setProblem] = useState<string>();
  const params = { id: job!.id };
  const { data, error } = useQuery({
    queryKey: ['door', job, stamp.id],
    queryFn: () => ask('viewDoor', { params, query: { stamp: stamp.id } }),
    refetchInterval: ({ state }) => (state.data?.asking ? 700 : false),
  });
  const turn = (method: 'POST' | 'DELETE') =>
    (method === 'POST'
      ? ask('askDoor', { params, body: { stamp: stamp.id } })
      : ask('stopAskingDoor', { params })
    ).then(
      () => client.invalidateQueries({ queryKey: ['door'] }),
      (e: unknown) => setProblem(e instanceof Error ? e.message : String(e)),
    );
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  if (!data) return <Small>{wording.checkingEveryAddress}</Small>;
  if (data.hosts.length === 0) return <Small>{wording.noRecordHasAn}</Small>;
  const { asking } = data;
  return (
    <div style={{ display: 'grid', gap: 12, width: 480 }}>
      <ul
        style={{
          listStyle: 'none',
          margin: 0,
          padding: 0,
          display: 'grid',
          gap: 9,
          maxHeight: 210,
          overflow: 'auto',
        }}
      >
        {data.hosts.map(({ host, records, trouble }) => (
          <li
            key={host}
            style={{
              display: 'grid',
              gridTemplateColumns: '14px 1fr auto',
              gap: '1px 8px',
              alignItems: 'baseline',
            }}
          >
            <Mark
              name={trouble ? 'look' : 'ready'}
              label={trouble ? wording.needsALook : wording.noProblemFound}
            />
            <span style={{ fontFamily: font.code, overflowWrap: 'anywhere' }}>{host}</span>
            <span style={{ fontVariantNumeric: 'tabular-nums' }}>{counted(records, 'code')}</span>
            {trouble && (
              <Small style={{ gridColumn: '2 / 4' }}>
                {trouble.message}. {trouble.mend}
              </Small>
            )}
          </li>
        ))}
      </ul>
      <Small>{wording.thisCheckLooksOnly}</Small>
      {data.states.length > 0 && <States states={data.states} close={close} />}
      {asking ? (
        <div role="status" style={{ display: 'flex', gap: 10, alignItems: 'center' }}>
          <progress
            value={asking.done}
            max={asking.of}
            style={{ flex: 1, accentColor: colour.violet }}
            aria-label={wording.addressesChecked}
          />
          <Small>
            {withParts(
              wording.of,
              asking.done.toLocaleString('en'),
              asking.of.toLocaleString('en'),
            )}
          </Small>
          <QuietButton onPress={() => void turn('DELETE')}>{wording.stop}</QuietButton>
        </div>
      ) : (
        data.addresses > 0 && (
          <div style={{ display: 'flex', gap: 10, alignItems: 'center' }}>
            <QuietButton onPress={() => void turn('POST')}>
              {withParts(
                wording.theAddresses,
                data.asked > 0 ? wording.checkAgain : wording.check,
                data.addresses.toLocaleString('en'),
              )}
            </QuietButton>
            <Small>{wording.eachAddressIsOpened}</Small>
          </div>
        )
      )}
      {problem && <ErrorLine>{problem}</ErrorLine>}
    </div>
  );
}

/** The results of the addresses, problems first; choosing one selects its record. */
function States({ states, close }: { states: DoorReport['states']; close: () => void }) {
  const screen = useContext(JobScreenContext);
  return (
    <div
      style={{
        borderTop: `1px solid ${colour.rule}`,
        paddingTop: 9,
        display: 'grid',
        gap: 7,
        maxHeight: 250,
        overflow: 'auto',
      }}
    >
      {order
        .flatMap((state) => states.find((s) => s.state === state) ?? [])
        .map(({ state, addresses, samples }) => (
          <div key={state}>
            <p>
              <Mark name={stateMarks[state]} /> <b>{addresses.toLocaleString('en')}</b>{' '}
              {doorStateWords[state]}
              {samples[0]?.status && state !== 'opens'
                ? ` (${[...new Set(samples.map((s) => s.status))].join(', ')})`
                : ''}
            </p>
            {state !== 'opens' &&
              samples.slice(0, 6).map(({ record, address, leadsTo }) => (
                <p
                  key={address}
                  style={{
                    font: `400 12.5px/1.5 ${font.code}`,
                    paddingLeft: 18,
                    overflowWrap: 'anywhere',
                  }}
                >
                  <PlainButton
                    style={{
                      padding: 0,
                      textDecoration: 'underline',
                      lineHeight: '24px',
                      fontFamily: 'inherit',
                      fontSize: 'inherit',
                      textAlign: 'left',
                      overflowWrap: 'anywhere',
                      whiteSpace: 'normal',
                    }}
                    onPress={() => {
                      screen?.jump({ record });
                      close();
                    }}
                  >
                    {address}
                  </PlainButton>
                  {leadsTo && ` → ${leadsTo}`}
                </p>
              ))}
            {state !== 'opens' && addresses > 6 && (
              <Small style={{ paddingLeft: 18 }}>
                {withParts(wording.andMore, (addresses - 6).toLocaleString('en'))}
              </Small>
            )}
          </div>
        ))}
    </div>
  );
}
