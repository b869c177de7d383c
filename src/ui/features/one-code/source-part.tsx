'use client';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { JobView, LedgerRow } from '../../../contract';
import { keyColumn, type Column } from '../../../core/records/columns';
import { shown } from '../../../core/records/sealed';
import { ask } from '../../kit/api';
import { ChoicePart, Choose, ErrorLine, Part, Small, Words } from '../../kit/controls';
import { sourcePart as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/** The source of the code: a typed value, or a record of a job with one of its stamps. */
export interface Source {
  job?: number;
  record?: LedgerRow;
}

const nameOf = (row: LedgerRow, columns: readonly Column[]): string => {
  const name = columns.find((c) => c.role === 'name');
  const key = keyColumn(columns);
  return (
    [name && shown(row.values[name.id] ?? ''), key && shown(row.values[key.id] ?? '')]
      .filter(Boolean)
      .join(', ') || filled(wording.record, row.number)
  );
};

export function useSourceJob(id: number | undefined): JobView | undefined {
  return useQuery({
    queryKey: ['job', id],
    queryFn: () => ask('viewJob', { params: { id } }),
    enabled: id !== undefined,
  }).data;
}

export const titleOfSource = (source: Source, job: JobView | undefined, payload: string): string =>
  source.record && job ? nameOf(source.record, job.list.columns) : payload || 'code';

/** The first words of the screen: the source of the code. */
export function SourcePart({
  source,
  job,
  onChange,
}: {
  source: Source;
  job: JobView | undefined;
  onChange: (source: Source) => void;
}) {
  const jobs = useQuery({ queryKey: ['jobs'], queryFn: () => ask('listJobs') }).data?.jobs ?? [];
  return withParts(
    wording.oneCodeFor,
    <ChoicePart
      looks
      label={wording.whereTheCodeComes}
      value={source.job === undefined ? 'own' : String(source.job)}
      onChange={(id) => onChange(id === 'own' ? {} : { job: Number(id) })}
      choices={[
        { id: 'own', name: wording.aValueIType },
        ...jobs.map((j) => ({
          id: String(j.id),
          name: filled(wording.aRecordOf, j.name),
          about: filled(wording.records, j.records.toLocaleString('en')),
        })),
      ]}
    />,
    source.job !== undefined && (
      <>
        :{' '}
        <Part
          looks
          label={wording.theRecord}
          editor={(close) => (
            <RecordPicker
              job={job}
              onPick={(record) => (onChange({ ...source, record }), close())}
            />
          )}
        >
          {source.record && job ? nameOf(source.record, job.list.columns) : wording.chooseOne}
        </Part>
      </>
    ),
  );
}

function RecordPicker({
  job,
  onPick,
}: {
  job: JobView | undefined;
  onPick: (record: LedgerRow) => void;
}) {
  const [query, setQuery] = useState('');
  const { data, error } = useQuery({
    queryKey: ['pick', job?.id, query],
    queryFn: () =>
      ask('jobRows', {
        params: { id: job!.id },
        query: { offset: '0', limit: '40', filter: 'all', q: encodeURIComponent(query) },
      }),
    enabled: job !== undefined,
  });
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  if (!job) return <Small>{wording.loadingTheJob}</Small>;
  return (
    <>
      <Words label={wording.findByAnyOf} value={query} onChange={setQuery} autoFocus />
      {data && data.rows.length === 0 && <Small>{wording.noRecordContainsThese}</Small>}
      {data && data.rows.length > 0 && (
        <Choose
          label={wording.records2}
          value={undefined}
          onChange={(id) => onPick(data.rows.find((r) => String(r.id) === id)!)}
          choices={data.rows.map((r) => ({ id: String(r.id), name: nameOf(r, job.list.columns) }))}
        />
      )}
      {data && data.total > data.rows.length && (
        <Small>
          {withParts(
            wording.moreTypeMoreLetters,
            (data.total - data.rows.length).toLocaleString('en'),
          )}
        </Small>
      )}
    </>
  );
}
