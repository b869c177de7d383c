'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useContext, useState } from 'react';
import type { Stamp } from '../../../core/payload/stamp';
import { imageFormats, imageWords, type ImageFormat } from '../../../core/run/outputs';
import { escapedHtml } from '../../../core/base/html';
import { addressTo, ask } from '../../kit/api';
import { copyText, notCopied } from '../../kit/copy';
import {
  ChoicePart,
  ErrorLine,
  Measure,
  Part,
  QuietButton,
  Sentence,
  Small,
} from '../../kit/controls';
import { useOurAddresses } from '../../kit/our-addresses';
import { JobScreenContext, useHand } from '../../shell/ledger/context';
import { Pick } from '../../kit/pick';
import { font } from '../../kit/theme';
import { useKept } from './kept';

/**
 * Addresses under which the picture of each record's code can be fetched by any page or
 * spreadsheet.
 */
export function AddressesPart({ stamp }: { stamp: Stamp }) {
  const screen = useContext(JobScreenContext);
  if (!screen) return null;
  return (
    <Part acts label="Picture addresses" editor={<Addresses stamp={stamp} />}>
      Picture addresses
    </Part>
  );
}

function Addresses({ stamp }: { stamp: Stamp }) {
  const { job } = useContext(JobScreenContext)!;
  const { handRow } = useHand();
  const client = useQueryClient();
  const [problem, setProblem] = useState<string>();
  const [format, setFormat] = useState<ImageFormat>('png');
  const [size, setSize] = useState<{ mm?: number; dpi?: number }>({});
  const [look, setLook] = useState<number>();
  const { kept } = useKept('look');
  const base = useOurAddresses()?.base ?? '';
  const params = { id: job.id };
  const { data, error } = useQuery({
    queryKey: ['addresses', job.id, stamp.id, handRow?.id],
    queryFn: () =>
      ask('viewAddresses', { params, query: { stamp: stamp.id, record: handRow?.id } }),
  });
  const act = (work: Promise<unknown>) =>
    void work.then(
      () => client.invalidateQueries({ queryKey: ['addresses'] }),
      (e: unknown) => setProblem(e instanceof Error ? e.message : String(e)),
    );
  const [copied, setCopied] = useState(false);
  const copy = (text: string) =>
    void copyText(text).then((done) => (done ? setCopied(true) : setProblem(notCopied)));
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  if (!data) return <Small>Loading …</Small>;
  const wanted = {
    mm: size.mm || undefined,
    dpi: size.dpi || undefined,
    look: look || undefined,
  };
  const own =
    data.token &&
    base +
      addressTo('codePicture', {
        params: { name: `${data.token}.${format}` },
        query: wanted,
      });
  const give = (records?: number[]) =>
    act(ask('giveAddresses', { params, body: { stamp: stamp.id, records } }));
  const withdraw = (records?: number[]) =>
    act(ask('withdrawAddresses', { params, body: { stamp: stamp.id, records } }));
  return (
    <div style={{ display: 'grid', gap: 10, width: 460 }}>
      <Small>
        Each record’s code as a picture at a web address that cannot be guessed. Use it in a web
        page, an email or a spreadsheet cell. It always shows the current code.
      </Small>
      {data.count === 0 ? (
        <div>
          <QuietButton onPress={() => give()}>Create an address for every record</QuietButton>
        </div>
      ) : (
        <>
          <Sentence $minor>
            As{' '}
            <ChoicePart
              label="Kind of picture"
              value={format}
              onChange={setFormat}
              choices={imageFormats.map((id) => ({ id, ...imageWords[id] }))}
            />
            ,{' '}
            <Part
              label="Size of the picture"
              editor={
                <>
                  <Measure
                    label="Width with its quiet zone, at most, mm"
                    value={size.mm ?? stamp.look.sizeMm}
                    min={4}
                    max={300}
                    step={0.5}
                    onChange={(mm) => setSize({ ...size, mm })}
                  />
                  <Pick
                    label="Dots per inch"
                    choices={[96, 150, 300, 600, 1200].map((id) => ({ id, name: String(id) }))}
                    value={size.dpi ?? stamp.look.dpi}
                    onChange={(dpi) => setSize({ ...size, dpi })}
                  />
                </>
              }
            >
              {size.mm ?? stamp.look.sizeMm} mm at {size.dpi ?? stamp.look.dpi} dpi
            </Part>
            , in{' '}
            <ChoicePart
              label="Look of the picture"
              value={String(look ?? 'own')}
              onChange={(id) => setLook(id === 'own' ? undefined : Number(id))}
              choices={[
                { id: 'own', name: 'the look of the stamp' },
                ...kept.map((k) => ({ id: String(k.id), name: `the look ${k.name}` })),
              ]}
            />
            .
          </Sentence>
          {own ? (
            <a
              href={own}
              target="_blank"
              rel="noreferrer"
              style={{ font: `400 13px/1.4 ${font.code}`, overflowWrap: 'anywhere' }}
            >
              {own}
            </a>
          ) : (
            handRow && (
              <QuietButton onPress={() => give([handRow.id])}>
                Create an address for this record
              </QuietButton>
            )
          )}
          <div style={{ display: 'flex', gap: 8, flexWrap: 'wrap', alignItems: 'center' }}>
            <a
              href={addressTo('addressesFile', {
                params,
                query: { stamp: stamp.id, ending: format, ...wanted },
              })}
              download
            >
              Download all {data.count.toLocaleString('en')} as CSV
            </a>
            <QuietButton onPress={() => give()}>Add missing addresses</QuietButton>
            {own && (
              <>
                <QuietButton onPress={() => copy(own)}>Copy address</QuietButton>
                <QuietButton onPress={() => copy(`<img src="${escapedHtml(own)}" alt="Code">`)}>
                  Copy as HTML image
                </QuietButton>
              </>
            )}
            {own && handRow && (
              <QuietButton onPress={() => withdraw([handRow.id])}>
                Withdraw this address
              </QuietButton>
            )}
            <QuietButton onPress={() => withdraw()}>Withdraw all</QuietButton>
          </div>
          <Small>
            A withdrawn address never works again. You can create a new one for a record.
          </Small>
        </>
      )}
      {copied && <Small role="status">Copied.</Small>}
      {problem && <ErrorLine>{problem}</ErrorLine>}
    </div>
  );
}
