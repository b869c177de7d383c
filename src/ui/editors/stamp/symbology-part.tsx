'use client';
import { counted } from '../../../core/base/words';
import { useQuery } from '@tanstack/react-query';
import type { SymbologyFit } from '../../../contract';
import { contentOf, stampFit, type Stamp } from '../../../core/payload/stamp';
import { symbologies, symbologyIds, type SymbologyId } from '../../../core/symbology';
import type { Values } from '../../../core/records/columns';
import { ask } from '../../kit/api';
import { Choose, ErrorLine, Part, QuietButton, Small } from '../../kit/controls';
import { colour } from '../../kit/theme';
import { stepWords } from '../worked/steps';
import { useBench } from './bench';
import { symbologyPart as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/**
 * The code type of a stamp: those that fit every record first, the others with how many do not fit
 * and why.
 */
export function SymbologyPart({
  stamp,
  onChange,
  onMend,
}: {
  stamp: Stamp;
  onChange: (id: SymbologyId) => void;
  /** Takes a symbology together with the worked column that makes the values fit it. */
  onMend?: (fit: SymbologyFit) => void;
}) {
  return (
    <Part
      label={wording.codeTypeSymbology}
      editor={(close) => (
        <SymbologyEditor
          stamp={stamp}
          onChange={(id) => {
            onChange(id);
            close();
          }}
          onMend={(fit) => {
            close();
            onMend?.(fit);
          }}
        />
      )}
    >
      {symbologies[stamp.symbology].name}
    </Part>
  );
}

function SymbologyEditor({
  stamp,
  onChange,
  onMend,
}: {
  stamp: Stamp;
  onChange: (id: SymbologyId) => void;
  onMend: (fit: SymbologyFit) => void;
}) {
  const { job, values } = useBench();
  const { data, error } = useQuery({
    queryKey: ['fits', job, job ? stamp.id : [stamp, values]],
    queryFn: async () =>
      job
        ? ask('symbologyFits', { params: { id: job.id }, query: { stamp: stamp.id } })
        : { fits: fitsOfOne(stamp, values ?? {}), looked: 1, of: 1 },
  });
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  if (!data) return <Small>{wording.checkingWhichOnesFit}</Small>;
  const ranked = [...data.fits].sort((a, b) => Math.sign(a.misfits) - Math.sign(b.misfits));
  // the stamp's own code type first, then those that a fix makes fit entirely
  const mendable = data.fits
    .filter((fit) => fit.steps && (fit.left === 0 || fit.id === stamp.symbology))
    .sort((a, b) => Number(b.id === stamp.symbology) - Number(a.id === stamp.symbology))
    .slice(0, 4);
  return (
    <>
      <Choose
        label={wording.codeTypeSymbology}
        value={stamp.symbology}
        onChange={onChange}
        choices={ranked.map((fit) => ({
          id: fit.id,
          name:
            fit.misfits === 0
              ? filled(wording.fits, fit.name, data.of > 1 ? ' all' : '')
              : data.of === 1
                ? filled(wording.doesNotFit, fit.name)
                : filled(wording.notFit, fit.name, counted(fit.misfits, 'does', 'do')),
          about: fit.misfits === 0 ? fit.about : [fit.reason, fit.mend].filter(Boolean).join(' '),
        }))}
      />
      {mendable.length > 0 && (
        <div
          style={{
            borderTop: `1px solid ${colour.rule}`,
            paddingTop: 8,
            display: 'grid',
            gap: 6,
            maxWidth: 400,
          }}
        >
          <Small>{wording.withAWorkedColumn}</Small>
          {mendable.map((fit) => (
            <div
              key={fit.id}
              style={{
                display: 'flex',
                gap: 8,
                alignItems: 'baseline',
                justifyContent: 'space-between',
              }}
            >
              <span style={{ fontSize: 13.5 }}>
                {fit.name}, {fit.steps!.map(stepWords).join(', ')}
                {fit.left
                  ? filled(wording.left, fit.left.toLocaleString('en'))
                  : data.looked < data.of
                    ? wording.allThatWereChecked
                    : wording.allFitAndNo}
              </span>
              <QuietButton onPress={() => onMend(fit)}>{wording.apply}</QuietButton>
            </div>
          ))}
        </div>
      )}
      {data.looked < data.of && (
        <Small>
          {withParts(
            wording.checkedOfRecordsThose,
            data.looked.toLocaleString('en'),
            data.of.toLocaleString('en'),
          )}
        </Small>
      )}
    </>
  );
}

/** For each symbology, whether it can say the content of one record. */
export function fitsOfOne(stamp: Stamp, values: Values): SymbologyFit[] {
  return symbologyIds.map((id) => {
    const { name, about } = symbologies[id];
    const own = { ...stamp, symbology: id };
    const content = contentOf(own, values);
    const fit =
      content.state === 'said'
        ? stampFit(own, content.payload)
        : { fits: false as const, reason: wording.thereIsNothingTo };
    return fit.fits
      ? { id, name, about, misfits: 0 }
      : {
          id,
          name,
          about,
          misfits: 1,
          reason: fit.reason,
          mend: 'mend' in fit ? fit.mend : undefined,
        };
  });
}
