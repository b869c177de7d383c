'use client';

import { plural } from '../../../core/base/words';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { styled } from 'styled-components';
import { problemWords, type ProblemKind } from '../../../core/records/problems';
import { ask } from '../../kit/api';
import {
  Check,
  ErrorLine,
  MainButton,
  Part,
  QuietButton,
  Sentence,
  Small,
} from '../../kit/controls';
import { Term } from '../../kit/term';
import { useJob } from '../../shell/ledger/context';
import { Mark } from '../../kit/mark';
import { colour, font } from '../../kit/theme';
import { problemsLine as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/** The problems of the records, counted by kind; each count opens the records and their fixes. */
export function ProblemsLine() {
  const { job } = useJob();
  if (job.problems.length === 0) return null;
  return (
    <Sentence $minor>
      {withParts(
        wording.check,
        <Mark name="look" />,
        job.problems.map(({ kind, records }, i) => (
          <span key={kind}>
            {i > 0 && (i === job.problems.length - 1 ? ' and ' : ', ')}
            <Part
              looks
              label={problemWords[kind].many}
              editor={(close) => <ProblemEditor kind={kind} close={close} />}
            >
              {records.toLocaleString('en')}{' '}
              {plural(records, problemWords[kind].one, problemWords[kind].many)}
            </Part>
          </span>
        )),
      )}
    </Sentence>
  );
}

const Rows = styled.div`
  max-height: 300px;
  overflow: auto;
  border-top: 1px solid ${colour.ruleStrong};
  border-bottom: 1px solid ${colour.ruleStrong};
  width: 560px;
  table {
    border-collapse: collapse;
    width: 100%;
    font-size: 13.5px;
  }
  td {
    border-bottom: 1px solid ${colour.rule};
    padding: 5px 8px 5px 0;
    vertical-align: baseline;
  }
  .value {
    font: 400 13px/1.35 ${font.code};
    overflow-wrap: anywhere;
    white-space: pre-wrap;
  }
  .value mark {
    background: ${colour.lookWash};
    color: ${colour.look};
  }
  tr[data-go] {
    cursor: pointer;
  }
`;

/** Spaces and invisible characters are made to be seen. */
function Visible({ text }: { text: string }) {
  const characters = Array.from(text);
  return (
    <>
      {characters
        .slice(0, 120)
        .map((c, i) =>
          /[\u00a0\u00ad\u200b-\u200f\u2060\ufeff]/u.test(c) ||
          (/\s/u.test(c) &&
            (i === 0 ||
              i === characters.length - 1 ||
              characters[i - 1] === ' ' ||
              characters[i + 1] === ' ')) ? (
            <mark key={i}>{c === ' ' ? '␣' : '▯'}</mark>
          ) : (
            c
          ),
        )}
    </>
  );
}

function ProblemEditor({ kind, close }: { kind: ProblemKind; close: () => void }) {
  const { job, changeList, jump, setView, openBand } = useJob();
  const words = problemWords[kind];
  const { data, error } = useQuery({
    queryKey: ['problem', job.list.id, job.list.revision, kind],
    queryFn: () => ask('listProblems', { params: { id: job.list.id }, query: { kind } }),
  });
  const [left, setLeft] = useState<ReadonlySet<number>>(new Set());
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  if (!data) return <Small>{wording.loading}</Small>;
  const mendable = data.rows.filter((r) => r.mended !== undefined);
  const chosen = mendable.filter((r) => !left.has(r.record));
  const mend = async () => {
    close();
    await changeList(() =>
      ask('mendProblems', {
        params: { id: job.list.id },
        body: { kind, records: [...new Set(chosen.map((r) => r.record))] },
      }),
    );
  };
  return (
    <>
      {words.help && <Small style={{ maxWidth: 560 }}>{words.help}</Small>}
      {kind === 'check-digit' && (
        <Small>{withParts(wording.whatIsA, <Term of="checkDigit">check digit</Term>)}</Small>
      )}
      <Rows tabIndex={0} role="region" aria-label={words.many}>
        <table>
          <tbody>
            {data.rows.slice(0, 300).map((row) => (
              <tr key={`${row.record}-${row.column}`}>
                <td style={{ width: 20 }}>
                  {row.mended !== undefined && (
                    <Check
                      label={filled(wording.fix, row.title || filled(wording.record, row.number))}
                      on={!left.has(row.record)}
                      onChange={(on) => {
                        const next = new Set(left);
                        if (on) next.delete(row.record);
                        else next.add(row.record);
                        setLeft(next);
                      }}
                    />
                  )}
                </td>
                <td style={{ width: 170 }}>
                  <button
                    type="button"
                    style={{
                      all: 'unset',
                      cursor: 'pointer',
                      textDecoration: 'underline',
                      textUnderlineOffset: 3,
                    }}
                    onClick={() => {
                      jump({ record: row.record });
                      if (kind === 'misfit') openBand('stamps');
                      close();
                    }}
                  >
                    {row.title || filled(wording.record, row.number)}
                  </button>
                </td>
                <td className="value">
                  {row.column ? (
                    <>
                      <Visible text={row.value} />
                      {row.mended !== undefined && (
                        <>
                          {' → '}
                          <b>{row.mended}</b>
                        </>
                      )}
                    </>
                  ) : (
                    <span style={{ fontFamily: font.text }}>{row.text}</span>
                  )}
                  {row.column && row.value.trim() === '' && (
                    <i style={{ fontFamily: font.text }}>
                      {withParts(wording.isBlank, row.columnName)}
                    </i>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </Rows>
      {data.rows.length > 300 && (
        <Small>{withParts(wording.theFirst300Of, data.rows.length.toLocaleString('en'))}</Small>
      )}
      <div style={{ display: 'flex', gap: 10, alignItems: 'center' }}>
        {words.mend && mendable.length > 0 && (
          <MainButton isDisabled={chosen.length === 0} onPress={() => void mend()}>
            {words.mend}: {chosen.length.toLocaleString('en')}
          </MainButton>
        )}
        <QuietButton
          looks
          onPress={() => {
            setView({ problem: kind, filter: 'all', q: '' });
            close();
          }}
        >
          {wording.showOnlyThese}
        </QuietButton>
        {words.mend && <Small>{wording.youCanUndoThis}</Small>}
      </div>
    </>
  );
}
