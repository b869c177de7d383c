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
import { shapeSentences as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

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
      label={wording.size}
      editor={
        <>
          <Measure
            label={wording.widthMm}
            value={element.width}
            min={0.1}
            max={1300}
            onChange={(width) => onChange({ ...element, width })}
          />
          <Measure
            label={wording.heightMm}
            value={element.height}
            min={0.1}
            max={1300}
            onChange={(height) => onChange({ ...element, height })}
          />
        </>
      }
    >
      {withParts(
        wording.mm,
        Math.round(element.width * 10) / 10,
        Math.round(element.height * 10) / 10,
      )}
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
      {withParts(
        wording.aRuleIn,
        <SizePart element={element} onChange={onChange} />,
        <ColourPart
          label={wording.colourOfTheRule}
          colour={element.colour}
          onChange={(colour) => onChange({ ...element, colour })}
        />,
        where && <>; {where}</>,
      )}
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
      {withParts(
        wording.aBox,
        <SizePart element={element} onChange={onChange} />,
        <ChoicePart
          label={wording.fill}
          value={fill ? 'filled' : 'open'}
          onChange={(id) => onChange({ ...element, fill: id === 'filled' ? '#ebe6f6' : undefined })}
          choices={[
            { id: 'filled', name: 'filled' },
            { id: 'open', name: wording.notFilled },
          ]}
        />,
        fill &&
          withParts(
            wording.with,
            <ColourPart
              label={wording.colourOfTheBox}
              colour={fill}
              onChange={(next) => onChange({ ...element, fill: next })}
            />,
          ),
        <Part
          label={wording.border}
          editor={
            <Measure
              label={wording.borderMm0None}
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
          {border ? filled(wording.aBorderOf, mmWords(border.mm)) : wording.noBorder}
        </Part>,
        border &&
          withParts(
            wording.in,
            <ColourPart
              label={wording.colourOfTheBorder}
              colour={border.colour}
              onChange={(next) => onChange({ ...element, border: { ...border, colour: next } })}
            />,
          ),
        where && <>; {where}</>,
      )}
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
      {withParts(
        wording.aPictureAtMost,
        <ChoicePart
          label={wording.whichPicture}
          value={element.column ?? 'fixed'}
          onChange={(id) => onChange({ ...element, column: id === 'fixed' ? undefined : id })}
          choices={[
            { id: 'fixed', name: wording.theSameOnEvery },
            ...columns
              .filter((c) => !c.hidden)
              .map((c) => ({
                id: c.id,
                name: filled(wording.theOneNamedIn, c.name),
                about: wording.byItsFileName,
              })),
          ]}
        />,
        <Part
          label={wording.picture}
          editor={
            column ? (
              <ListPictures column={column.id} />
            ) : (
              <FixedPicture element={element} onChange={onChange} />
            )
          }
        >
          {column
            ? wording.picturesOfThisList
            : element.picture
              ? element.picture.name
              : wording.chooseIt}
        </Part>,
        <SizePart element={element} onChange={onChange} />,
        where && <>; {where}</>,
      )}
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
        <QuietButton>{wording.chooseAPNGJPEG}</QuietButton>
      </FileTrigger>
      {element.picture && (
        <Small>
          {withParts(
            wording.pixels,
            element.picture.name,
            element.picture.width,
            element.picture.height,
          )}
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
        return filled(wording.added, files.length);
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
      return filled(
        wording.downloaded,
        kept,
        failed.length
          ? filled(
              wording.couldNotBeDownloaded,
              failed.length,
              failed[0]!.address,
              failed[0]!.reason,
            )
          : '',
      );
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
        {withParts(
          wording.savedForThisList,
          counted(data?.names.length ?? 0, wording.pictureIs, wording.picturesAre),
        )}
      </Small>
      <div style={{ display: 'flex', gap: 8 }}>
        <FileTrigger
          allowsMultiple
          acceptedFileTypes={['image/png', 'image/jpeg', 'image/svg+xml']}
          onSelect={(files) => files && files.length > 0 && work.mutate([...files])}
        >
          <QuietButton isDisabled={work.isPending}>{wording.chooseFiles}</QuietButton>
        </FileTrigger>
        <QuietButton isDisabled={work.isPending} onPress={() => work.mutate(undefined)}>
          {wording.downloadFromTheirAddresses}
        </QuietButton>
      </div>
      {work.isPending && (
        <Small>
          {withParts(
            wording.addingPictures,
            left ? filled(wording.left, counted(left, 'is', 'are')) : '',
          )}
        </Small>
      )}
      {told && <Small>{told}</Small>}
      {work.error && <ErrorLine>{work.error.message}</ErrorLine>}
    </div>
  );
}
