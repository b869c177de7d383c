'use client';
import type * as contract from '../../../contract';

import { counted, mmWords } from '../../../core/base/words';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { FileTrigger } from 'react-aria-components';
import type { PieceElement, PictureElement } from '../../../core/piece/model';
import { ask, send } from '../../kit/api';
import {
  ChoicePart,
  ErrorLine,
  Measure,
  Part,
  QuietButton,
  Sentence,
  Small,
} from '../../kit/controls';
import { forgetPieces } from '../../kit/core-client';
import { useJob } from '../../shell/ledger/context';
import { colourName, ColourEditor } from '../../editors/stamp/colour-editor';

type Change = (element: PieceElement) => void;

/** Size of a thing that has width and height. */
function SizePart({
  element,
  onChange,
}: {
  element: Extract<PieceElement, { width: number; height: number }>;
  onChange: Change;
}) {
  return (
    <Part
      label="Size"
      editor={
        <>
          <Measure
            label="Width, mm"
            value={element.width}
            min={0.1}
            max={1300}
            onChange={(width) => onChange({ ...element, width })}
          />
          <Measure
            label="Height, mm"
            value={element.height}
            min={0.1}
            max={1300}
            onChange={(height) => onChange({ ...element, height })}
          />
        </>
      }
    >
      {Math.round(element.width * 10) / 10} × {Math.round(element.height * 10) / 10} mm
    </Part>
  );
}

function ColourPart({
  label,
  colour,
  onChange,
}: {
  label: string;
  colour: string;
  onChange: (colour: string) => void;
}) {
  return (
    <Part
      label={label}
      editor={
        <ColourEditor
          look={{
            sizeMm: 20,
            dpi: 600,
            wholeDots: true,
            quietZone: true,
            foreground: colour,
            background: '#ffffff',
          }}
          onChange={({ foreground }) => foreground && onChange(foreground)}
          warnings={[]}
        />
      }
    >
      {colourName(colour)}
    </Part>
  );
}

export function RuleSentence({
  element,
  onChange,
  where,
}: {
  element: Extract<PieceElement, { kind: 'rule' }>;
  onChange: Change;
  where?: ReactNode;
}) {
  return (
    <Sentence $minor>
      A rule, <SizePart element={element} onChange={onChange} />, in{' '}
      <ColourPart
        label="Colour of the rule"
        colour={element.colour}
        onChange={(colour) => onChange({ ...element, colour })}
      />
      {where && <>; {where}</>}.
    </Sentence>
  );
}

export function BoxSentence({
  element,
  onChange,
  where,
}: {
  element: Extract<PieceElement, { kind: 'box' }>;
  onChange: Change;
  where?: ReactNode;
}) {
  const { fill, border } = element;
  return (
    <Sentence $minor>
      A box, <SizePart element={element} onChange={onChange} />,{' '}
      <ChoicePart
        label="Fill"
        value={fill ? 'filled' : 'open'}
        onChange={(id) => onChange({ ...element, fill: id === 'filled' ? '#ebe6f6' : undefined })}
        choices={[
          { id: 'filled', name: 'filled' },
          { id: 'open', name: 'not filled' },
        ]}
      />
      {fill && (
        <>
          {' '}
          with{' '}
          <ColourPart
            label="Colour of the box"
            colour={fill}
            onChange={(next) => onChange({ ...element, fill: next })}
          />
        </>
      )}
      ,{' '}
      <Part
        label="Border"
        editor={
          <Measure
            label="Border, mm (0: none)"
            value={border?.mm ?? 0}
            min={0}
            max={20}
            onChange={(mm) =>
              onChange({
                ...element,
                border: mm > 0.04 ? { mm, colour: border?.colour ?? '#1d1a26' } : undefined,
              })
            }
          />
        }
      >
        {border ? `a border of ${mmWords(border.mm)}` : 'no border'}
      </Part>
      {border && (
        <>
          {' '}
          in{' '}
          <ColourPart
            label="Colour of the border"
            colour={border.colour}
            onChange={(next) => onChange({ ...element, border: { ...border, colour: next } })}
          />
        </>
      )}
      {where && <>; {where}</>}.
    </Sentence>
  );
}

export function PictureSentence({
  element,
  onChange,
  where,
}: {
  element: PictureElement;
  onChange: Change;
  where?: ReactNode;
}) {
  const { job } = useJob();
  const { columns } = job.list;
  const column = columns.find((c) => c.id === element.column);
  return (
    <Sentence $minor>
      A picture,{' '}
      <ChoicePart
        label="Which picture"
        value={element.column ?? 'fixed'}
        onChange={(id) => onChange({ ...element, column: id === 'fixed' ? undefined : id })}
        choices={[
          { id: 'fixed', name: 'the same on every piece' },
          ...columns
            .filter((c) => !c.hidden)
            .map((c) => ({
              id: c.id,
              name: `the one named in ${c.name}`,
              about: 'by its file name or its web address',
            })),
        ]}
      />
      ,{' '}
      <Part
        label="Picture"
        editor={
          column ? (
            <ListPictures column={column.id} />
          ) : (
            <FixedPicture element={element} onChange={onChange} />
          )
        }
      >
        {column ? 'pictures of this list' : element.picture ? element.picture.name : 'choose it'}
      </Part>
      , at most <SizePart element={element} onChange={onChange} />
      {where && <>; {where}</>}.
    </Sentence>
  );
}

function FixedPicture({ element, onChange }: { element: PictureElement; onChange: Change }) {
  const sending = useMutation({
    mutationFn: (file: File) => send('redrawPicture', file, file.name),
    onSuccess: (picture) => onChange({ ...element, picture }),
  });
  return (
    <>
      <FileTrigger
        acceptedFileTypes={['image/png', 'image/jpeg', 'image/svg+xml']}
        onSelect={(files) => files?.[0] && sending.mutate(files[0])}
      >
        <QuietButton>Choose a PNG, JPEG or SVG</QuietButton>
      </FileTrigger>
      {element.picture && (
        <Small>
          {element.picture.name}, {element.picture.width} × {element.picture.height} pixels
        </Small>
      )}
      {sending.error && <ErrorLine>{sending.error.message}</ErrorLine>}
    </>
  );
}

/**
 * The pictures that the records name: sent here as files, or fetched from the addresses in the
 * column.
 */
function ListPictures({ column }: { column: string }) {
  const { job } = useJob();
  const client = useQueryClient();
  const params = { id: job.list.id };
  const { data } = useQuery({
    queryKey: ['pictures', job.list.id],
    queryFn: () => ask('listPictureNames', { params }),
  });
  const [told, setTold] = useState<string>();
  const [left, setLeft] = useState<number>();
  const work = useMutation({
    mutationFn: async (files: File[] | undefined) => {
      if (files) {
        for (const [i, file] of files.entries())
          await send('addListPicture', file, file.name, {
            params,
            query: { last: i === files.length - 1 ? 'yes' : undefined },
          });
        return `${files.length} added.`;
      }
      let kept = 0;
      const failed: contract.FetchedPictures['failed'] = [];
      for (let after: string | null | undefined; after !== null;) {
        const part: contract.FetchedPictures = await ask('fetchListPictures', {
          params,
          body: { column, after },
        });
        kept += part.kept;
        failed.push(...part.failed);
        after = part.next;
        setLeft(part.left);
      }
      return `${kept} downloaded${failed.length ? `; ${failed.length} could not be downloaded: ${failed[0]!.address}, ${failed[0]!.reason}` : ''}.`;
    },
    onSettled: () => setLeft(undefined),
    onSuccess: (words) => {
      setTold(words);
      forgetPieces();
      return client.invalidateQueries();
    },
  });
  return (
    <div style={{ display: 'grid', gap: 8, maxWidth: 380 }}>
      <Small>
        {counted(data?.names.length ?? 0, 'picture is', 'pictures are')} saved for this list. A
        record finds its picture by the file name, or the address, in the column.
      </Small>
      <div style={{ display: 'flex', gap: 8 }}>
        <FileTrigger
          allowsMultiple
          acceptedFileTypes={['image/png', 'image/jpeg', 'image/svg+xml']}
          onSelect={(files) => files && files.length > 0 && work.mutate([...files])}
        >
          <QuietButton isDisabled={work.isPending}>Choose files</QuietButton>
        </FileTrigger>
        <QuietButton isDisabled={work.isPending} onPress={() => work.mutate(undefined)}>
          Download from their addresses
        </QuietButton>
      </div>
      {work.isPending && (
        <Small>Adding pictures …{left ? ` ${counted(left, 'is', 'are')} left.` : ''}</Small>
      )}
      {told && <Small>{told}</Small>}
      {work.error && <ErrorLine>{work.error.message}</ErrorLine>}
    </div>
  );
}
