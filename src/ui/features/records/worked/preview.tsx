'use client';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { givenOnce, type Worked } from '../../../../core/records/worked';
import { ask } from '../../../kit/api';
import { ErrorLine, Small } from '../../../kit/controls';
import { useHand, useJob } from '../../../shell/ledger/context';
import { colour, font } from '../../../kit/theme';
import { preview as wording } from '../words';

/**
 * What a worked column yields for the selected record and for the five records of the list that
 * differ most from it.
 */
export function WorkedPreview({ worked, id }: { worked: Worked; id: string }) {
  const { job } = useJob();
  const { handRow } = useHand();
  const { data, error } = useQuery({
    queryKey: ['worked', job.list.id, job.list.revision, worked, id, handRow?.id],
    queryFn: () =>
      ask('previewWorked', {
        params: { id: job.list.id },
        body: { worked, id, record: handRow!.id },
      }),
    enabled: handRow !== undefined,
    placeholderData: keepPreviousData,
  });
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  if (!data) return null;
  const secret = givenOnce(worked.source);
  return (
    <div>
      <Small style={{ marginBottom: 3 }}>{wording.theSelectedRecordAnd}</Small>
      <table style={{ borderCollapse: 'collapse', font: `400 13px/1.5 ${font.code}` }}>
        <tbody>
          {data.rows.map((row) => (
            <tr key={row.number} style={{ borderTop: `1px solid ${colour.rule}` }}>
              <td style={{ paddingRight: 12, color: colour.inkSoft }}>{row.number}</td>
              <td style={{ overflowWrap: 'anywhere' }}>
                {secret ? wording.keptOnceMade : row.result || <i>{wording.blank}</i>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
