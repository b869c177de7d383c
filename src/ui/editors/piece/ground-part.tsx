'use client';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { FileTrigger } from 'react-aria-components';
import { allGrounds, onGround } from '../../../core/grounds';
import { groundOf } from '../../../core/piece/model';
import type { GroundKind } from '../../../core/piece/ground';
import type { DocumentView, FoundPlaces } from '../../../contract';
import { Mark } from '../../kit/mark';
import { DropFiles } from '../../kit/drop-files';
import { BringPdfs } from './bring-pdfs';
import { ask, send } from '../../kit/api';
import { Choose, ErrorLine, MainButton, Part, QuietButton, Small } from '../../kit/controls';
import { useJob } from '../../shell/ledger/context';
import { groundPart as wording } from './words';

const documentTypes = ['.docx', '.html', '.htm', '.zip'];

/** The ground of the piece: the first part of its sentence. */
export function GroundPart() {
  const { piece } = useJob().job.document;
  return (
    <Part label={wording.whatItIsPut} editor={(close) => <GroundEditor close={close} />}>
      {piece.ground ? onGround(piece).called(piece) : onGround(piece).name}
    </Part>
  );
}

/** Grounds that are brought in, and how to bring in more. */
const brought: Partial<
  Record<
    GroundKind,
    { Bring: (props: { onDone: () => void; onBack: () => void }) => React.ReactNode; more: string }
  >
> = {
  document: { Bring: BringDocument, more: wording.bringInAnotherDocument },
  pdfs: { Bring: BringPdfs, more: wording.bringInMorePDFs },
};

function GroundEditor({ close }: { close: () => void }) {
  const { job, save } = useJob();
  const own = groundOf(job.document.piece);
  const kind = onGround(job.document.piece).offered ?? own;
  const [bringing, setBringing] = useState<GroundKind>();
  const Bring = bringing && brought[bringing]?.Bring;
  if (Bring) return <Bring onDone={close} onBack={() => setBringing(undefined)} />;
  const more = brought[kind]?.more;
  return (
    <>
      <Choose
        label={wording.whatItIsPut}
        choices={allGrounds.map((g) => ({ id: g.kind, name: g.name, about: g.about }))}
        value={kind}
        onChange={(next) => {
          if (brought[next]) return setBringing(next);
          if (next !== own) save((d) => ({ ...d, piece: { ...d.piece, ground: undefined } }));
          close();
        }}
      />
      {more && (
        <div>
          <QuietButton onPress={() => setBringing(kind)}>{more}</QuietButton>
        </div>
      )}
    </>
  );
}

interface Brought {
  document: DocumentView;
  found: FoundPlaces;
}

/** Takes a finished example; its places are found before it is shown. */
function BringDocument({ onDone, onBack }: { onDone: () => void; onBack: () => void }) {
  const { job, save } = useJob();
  const bring = useMutation({
    mutationFn: async (file: File) => {
      const document = await send('bringDocument', file, file.name);
      const found = await ask('findInDocument', {
        params: { id: job.id },
        body: { document: document.id },
      });
      return { document, found };
    },
    // what would be lost is listed, and it is used only after a confirmation
    onSuccess: (brought) => brought.document.facts.notes.length === 0 && take(brought),
  });
  const take = ({ document: { id, name, kind, facts }, found }: Brought) => {
    const { writtenFor, places } = found;
    save((d) => ({
      ...d,
      piece: {
        ...d.piece,
        ground: {
          kind: kind === 'html' ? 'html' : 'document',
          document: id,
          name,
          ...(writtenFor ? { writtenFor } : {}),
          places,
          // a code that was on the piece before comes into the first picture of a code’s shape
          codes: facts.pictures
            .filter((p) => d.stamps.length > 0 && Math.abs(p.widthMm / p.heightMm - 1) < 0.1)
            .slice(0, 1)
            .map((p) => ({
              id: 'code-1',
              stamp: d.stamps[0]!.id,
              widthMm: Math.max(4, p.widthMm),
              heightMm: Math.max(4, p.heightMm),
              at: { kind: 'picture' as const, part: p.part, picture: p.number },
            })),
          blocks: [],
        },
      },
    }));
    onDone();
  };
  const notes = bring.data?.document.facts.notes ?? [];
  if (bring.data && notes.length > 0)
    return (
      <div style={{ display: 'grid', gap: 10, width: 400 }}>
        <p>
          <b>{bring.data.document.name}</b>
        </p>
        <p>
          <Mark name="look" /> {notes.join('; ')}.
        </p>
        <div style={{ display: 'flex', gap: 8 }}>
          <MainButton onPress={() => take(bring.data)}>{wording.useThisDocument}</MainButton>
          <QuietButton onPress={() => bring.reset()}>{wording.cancel}</QuietButton>
        </div>
      </div>
    );
  return (
    <div style={{ display: 'grid', gap: 10, width: 400 }}>
      <p>
        <b>{wording.aDocumentOfYour}</b>
      </p>
      <Small>{wording.bringInADOCX}</Small>
      <DropFiles label={wording.dropADocumentHere} onFiles={([file]) => file && bring.mutate(file)}>
        <p>{wording.dropItHereOr}</p>
        <div style={{ display: 'flex', gap: 8 }}>
          <FileTrigger
            acceptedFileTypes={documentTypes}
            onSelect={(files) => files?.[0] && bring.mutate(files[0])}
          >
            <MainButton isPending={bring.isPending}>
              {bring.isPending ? wording.checkingTheDocument : wording.chooseADocument}
            </MainButton>
          </FileTrigger>
          <QuietButton onPress={onBack}>{wording.back}</QuietButton>
        </div>
      </DropFiles>
      {bring.error && <ErrorLine>{bring.error.message}</ErrorLine>}
    </div>
  );
}
