'use client';

import { matchedFields } from '../../../core/payload/matching';
import { purposeOf, purposes, type Field } from '../../../core/payload/purposes';
import { contentOf, type Part as ContentPart, type Stamp } from '../../../core/payload/stamp';
import { maskPayload } from '../../../core/payload/secrets';
import type { Column } from '../../../core/records/columns';
import { shown } from '../../../core/records/sealed';
import { Chip, ChoicePart, Part, Small } from '../../kit/controls';
import { colour, font } from '../../kit/theme';
import { randomKey } from '../../kit/random-key';
import { useBench } from './bench';
import { ContentEditor } from './content-editor';
import { purposePart as wording } from './words';
import { withParts } from '../../kit/with-parts';

/** What a scan does: the purposes, each with its open format. */
export function PurposePart({
  stamp,
  change,
}: {
  stamp: Stamp;
  change: (next: Partial<Stamp>) => void;
}) {
  const { job, columns } = useBench();
  const choose = (does: string) => {
    // a proof needs a key of its own: made and sealed by the server, or here for a code that is not
    // kept
    const key =
      purposeOf(does).proves && !stamp.proofKey ? { proofKey: job ? 'new' : randomKey() } : {};
    change({ does, fields: matchedFields(stamp, does, columns), ...key });
  };
  return (
    <ChoicePart
      label={wording.whatAScanDoes}
      value={stamp.does}
      onChange={choose}
      choices={purposes.map((p) => ({ id: p.id, name: p.does, about: p.phone, title: p.format }))}
    />
  );
}

/** Content in words and chips. */
export function PartsWords({
  parts,
  empty,
  columns: of,
}: {
  parts: readonly ContentPart[];
  empty: string;
  /** The values of another list, if they are not the stamp's. */
  columns?: readonly Column[];
}) {
  const bench = useBench();
  const columns = of ?? bench.columns;
  if (parts.length === 0) return <>{empty}</>;
  return (
    <>
      {parts.map((part, i) =>
        part.kind === 'text' ? (
          <span key={i} style={{ overflowWrap: 'anywhere' }}>
            {part.text}
          </span>
        ) : (
          <Chip key={i}>
            {columns.find((c) => c.id === part.column)?.name ?? wording.aDeletedColumn}
          </Chip>
        ),
      )}
    </>
  );
}

/** The fields of a purpose, each a part of the sentence; empty optional ones are behind “more”. */
export function FieldsParts({
  stamp,
  change,
}: {
  stamp: Stamp;
  change: (next: Partial<Stamp>) => void;
}) {
  const purpose = purposeOf(stamp.does);
  const fields = purpose.fields.filter((f) => f.id !== 'content');
  const partsOf = (id: string) => stamp.fields?.[id] ?? [];
  const set = (id: string) => (parts: ContentPart[]) =>
    change({ fields: { ...stamp.fields, [id]: parts } });
  const shown = fields.filter((f) => f.needed || partsOf(f.id).length > 0);
  const more = fields.filter((f) => !shown.includes(f));
  return (
    <>
      {shown.map((field, i) => (
        <span key={field.id}>
          {i > 0 ? ', ' : ': '}
          {field.label}{' '}
          <FieldPart
            stamp={stamp}
            field={field}
            parts={partsOf(field.id)}
            onChange={set(field.id)}
          />
        </span>
      ))}
      {more.length > 0 &&
        withParts(
          wording.add,
          more.map((field, i) => (
            <span key={field.id} style={{ fontSize: '0.87em', fontWeight: 400 }}>
              {i > 0 && ', '}
              <FieldPart stamp={stamp} field={field} parts={[]} onChange={set(field.id)} add />
            </span>
          )),
        )}
    </>
  );
}

function FieldPart({
  stamp,
  field,
  parts,
  onChange,
  add = false,
}: {
  stamp: Stamp;
  field: Field;
  parts: readonly ContentPart[];
  onChange: (parts: ContentPart[]) => void;
  add?: boolean;
}) {
  const { columns, values } = useBench();
  const words = add ? field.label : undefined;
  if (field.choices) {
    const value = parts[0]?.kind === 'text' ? parts[0].text : field.choices[0]!.value;
    return (
      <ChoicePart
        label={field.label}
        // an empty id cannot be chosen in a list
        value={value || '-'}
        onChange={(id) => onChange(id === '-' ? [] : [{ kind: 'text', text: id }])}
        choices={field.choices.map((c) => ({ id: c.value || '-', name: c.label }))}
      >
        {words ?? field.choices.find((c) => c.value === value)?.label}
      </ChoicePart>
    );
  }
  return (
    <Part
      label={field.label}
      editor={(close) => (
        <>
          <ContentEditor
            parts={parts}
            columns={columns}
            onChange={(next) => {
              onChange(next);
              close();
            }}
          />
          {values && <Result stamp={stamp} />}
        </>
      )}
    >
      {words ?? <PartsWords parts={parts} empty={wording.empty} />}
    </Part>
  );
}

function Result({ stamp }: { stamp: Stamp }) {
  const { values, columns } = useBench();
  const content = contentOf(stamp, values ?? {});
  return (
    <div>
      <Small>{wording.forTheSelectedRecord}</Small>
      <p
        style={{
          font: `400 12.5px/1.4 ${font.code}`,
          color: colour.ink,
          whiteSpace: 'pre-wrap',
          overflowWrap: 'anywhere',
          maxHeight: 110,
          overflow: 'auto',
        }}
      >
        {content.state === 'said'
          ? shown(maskPayload(content.payload, stamp, values ?? {}, columns))
          : content.state === 'wrong'
            ? shown(content.reason)
            : wording.nothingAValueIt}
      </p>
    </div>
  );
}
