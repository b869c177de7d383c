'use client';

import type { Column } from '../../../../core/records/columns';
import type { Part as ContentPart } from '../../../../core/records/parts';
import {
  beginningOf,
  type BeginningQuestion,
  type WorkedSource,
} from '../../../../core/records/beginnings';
import type { Worked } from '../../../../core/records/worked';
import { ContentEditor } from '../../../editors/stamp/content-editor';
import { PartsWords } from '../../../editors/stamp/purpose-part';
import { ChoicePart, Measure, Part, QuietButton, Small } from '../../../kit/controls';
import { useJob } from '../../../shell/ledger/context';
import { WorkedPreview } from './preview';
import { beginningPart as wording } from '../words';
import { filled } from '../../../kit/with-parts';

interface Props {
  column: Column;
  worked: Worked;
  /** The columns that it can be made from. */
  before: readonly Column[];
  change: (source: WorkedSource) => void;
}

/** What a worked column begins with, in its sentence, with its settings. */
export function BeginningPart({ column, worked, before, change }: Props) {
  const { job } = useJob();
  const { source } = worked;
  const { stamps } = job.document;
  const beginning = beginningOf(source);
  const words = beginning.words?.(
    source,
    (id) => before.find((c) => c.id === id)?.name ?? wording.aDeletedColumn,
  );
  return (
    <>
      {beginning.before?.(source, stamps.length)}
      {beginning.asks && (
        <Asked
          asks={beginning.asks}
          words={words}
          {...{ column, worked, before }}
          change={(of, value) => change({ ...source, [of]: value } as WorkedSource)}
        />
      )}
    </>
  );
}

function Asked({
  asks,
  words,
  column,
  worked,
  before,
  change,
}: Omit<Props, 'change'> & {
  asks: BeginningQuestion<WorkedSource>;
  words: string | undefined;
  change: (of: string, value: unknown) => void;
}) {
  const { job } = useJob();
  const { stamps } = job.document;
  const label = filled(wording.whatIsMadeFrom, column.name);
  // the beginning itself names the field of an answer
  const now = (of: string): unknown => (worked.source as Readonly<Record<string, unknown>>)[of];
  const preview = !beginningOf(worked.source).once && (
    <WorkedPreview worked={worked} id={column.id} />
  );
  if (asks.as === 'stamp')
    return (
      stamps.length > 1 && (
        <ChoicePart
          label={wording.ofWhichStamp}
          value={now(asks.of) as string}
          onChange={(stamp) => change(asks.of, stamp)}
          choices={stamps.map((s) => ({ id: s.id, name: s.name }))}
        />
      )
    );
  if (asks.as === 'parts') {
    const parts = now(asks.of) as ContentPart[];
    return (
      <Part
        label={label}
        editor={(close) => (
          <>
            <ContentEditor
              parts={parts}
              columns={before}
              onChange={(next) => (change(asks.of, next), close())}
            />
            {preview}
          </>
        )}
      >
        <PartsWords parts={parts} empty={wording.empty} />
      </Part>
    );
  }
  if (asks.as === 'numbers')
    return (
      <Part
        label={label}
        editor={
          <>
            {asks.of.map(({ of, label: asked, min, max }) => (
              <Measure
                key={of}
                label={asked}
                value={now(of) as number}
                min={min}
                max={max}
                step={1}
                onChange={(value) => change(of, value)}
              />
            ))}
            {preview}
          </>
        }
      >
        {words}
      </Part>
    );
  const chosen = now(asks.of) as string[];
  return (
    <Part
      label={label}
      editor={
        <>
          <Small>{asks.label}</Small>
          <div style={{ display: 'flex', flexWrap: 'wrap', gap: 6 }}>
            {before.map(({ id, name }) => (
              <QuietButton
                key={id}
                aria-pressed={chosen.includes(id)}
                onPress={() =>
                  change(
                    asks.of,
                    chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id],
                  )
                }
              >
                {name}
              </QuietButton>
            ))}
          </div>
          {preview}
        </>
      }
    >
      {words}
    </Part>
  );
}
