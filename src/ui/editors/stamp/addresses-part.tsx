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
import { addressesPart as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/**
 * Addresses under which the picture of each record's code can be fetched by any page or
 * spreadsheet.
 */
export function AddressesPart({ stamp }: { stamp: Stamp }) {
  const screen = useContext(JobScreenContext);
  if (!screen) return null;
  return (
    <Part acts label={wording.pictureAddresses} editor={<Addresses stamp={stamp} />}>
      {wording.pictureAddresses}
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
  if (!data) return <Small>{wording.loading}</Small>;
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
      <Small>{wording.eachRecordsCodeAs}</Small>
      {data.count === 0 ? (
        <div>
          <QuietButton onPress={() => give()}>{wording.createAnAddressFor}</QuietButton>
        </div>
      ) : (
        <>
          <Sentence $minor>
            {withParts(
              wording.asIn,
              <ChoicePart
                label={wording.kindOfPicture}
                value={format}
                onChange={setFormat}
                choices={imageFormats.map((id) => ({ id, ...imageWords[id] }))}
              />,
              <Part
                label={wording.sizeOfThePicture}
                editor={
                  <>
                    <Measure
                      label={wording.widthWithItsQuiet}
                      value={size.mm ?? stamp.look.sizeMm}
                      min={4}
                      max={300}
                      step={0.5}
                      onChange={(mm) => setSize({ ...size, mm })}
                    />
                    <Pick
                      label={wording.dotsPerInch}
                      choices={[96, 150, 300, 600, 1200].map((id) => ({ id, name: String(id) }))}
                      value={size.dpi ?? stamp.look.dpi}
                      onChange={(dpi) => setSize({ ...size, dpi })}
                    />
                  </>
                }
              >
                {withParts(
                  wording.mmAtDpi,
                  size.mm ?? stamp.look.sizeMm,
                  size.dpi ?? stamp.look.dpi,
                )}
              </Part>,
              <ChoicePart
                label={wording.lookOfThePicture}
                value={String(look ?? 'own')}
                onChange={(id) => setLook(id === 'own' ? undefined : Number(id))}
                choices={[
                  { id: 'own', name: wording.theLookOfThe },
                  ...kept.map((k) => ({ id: String(k.id), name: filled(wording.theLook, k.name) })),
                ]}
              />,
            )}
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
                {wording.createAnAddressForThis}
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
              {withParts(wording.downloadAllAsCSV, data.count.toLocaleString('en'))}
            </a>
            <QuietButton onPress={() => give()}>{wording.addMissingAddresses}</QuietButton>
            {own && (
              <>
                <QuietButton onPress={() => copy(own)}>{wording.copyAddress}</QuietButton>
                <QuietButton onPress={() => copy(filled(wording.imgSrcAltCode, escapedHtml(own)))}>
                  {wording.copyAsHTMLImage}
                </QuietButton>
              </>
            )}
            {own && handRow && (
              <QuietButton onPress={() => withdraw([handRow.id])}>
                {wording.withdrawThisAddress}
              </QuietButton>
            )}
            <QuietButton onPress={() => withdraw()}>{wording.withdrawAll}</QuietButton>
          </div>
          <Small>{wording.aWithdrawnAddressNever}</Small>
        </>
      )}
      {copied && <Small role="status">{wording.copied}</Small>}
      {problem && <ErrorLine>{problem}</ErrorLine>}
    </div>
  );
}
