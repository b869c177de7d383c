'use client';

import { useCallback, useEffect, useRef, useState } from 'react';
import { FileTrigger } from 'react-aria-components';
import type { ScanReport } from '../../workers/protocol';
import { cameraTrouble, greyOf } from '../kit/camera';
import { ErrorLine, QuietButton, Small } from '../kit/controls';
import { scanImage } from '../kit/core-client';
import { Mark } from '../kit/mark';
import { saysElements } from '../../core/payload/unpack';
import { phoneWould, UnpackedFields } from '../kit/reading';
import { colour, font } from '../kit/theme';
import { scanPanel as wording } from './words';
import { filled, withParts } from '../kit/with-parts';

export type ScanSource = 'camera' | 'file';

/** Scans a code, by camera or from a picture, and says whether it is the expected one. */
export function ScanPanel({ source, expected }: { source: ScanSource; expected?: string }) {
  const [found, setFound] = useState<ScanReport | 'nothing'>();
  return (
    <div style={{ display: 'grid', gap: 9 }}>
      {source === 'camera' ? <Camera onFound={setFound} /> : <PictureFile onFound={setFound} />}
      <div role="status" aria-live="polite">
        {found === 'nothing' && (
          <p style={{ color: colour.failed, display: 'flex', gap: 7, alignItems: 'baseline' }}>
            {withParts(wording.noCodeWasFound, <Mark name="failed" />)}
          </p>
        )}
        {found && found !== 'nothing' && (
          <>
            {expected !== undefined && (
              <p
                style={{
                  display: 'flex',
                  gap: 7,
                  alignItems: 'baseline',
                  color: found.text === expected ? colour.ready : colour.failed,
                }}
              >
                <Mark name={found.text === expected ? 'ready' : 'failed'} />
                {found.text === expected
                  ? wording.itSaysWhatThis
                  : wording.itSaysSomethingDifferent}
              </p>
            )}
            <p
              style={{
                font: `400 13.5px/1.45 ${font.code}`,
                overflowWrap: 'anywhere',
                margin: '3px 0',
              }}
            >
              {found.text}
            </p>
            <Small>
              {withParts(
                wording.aPhoneWould,
                found.symbology,
                phoneWould(found.text, saysElements(found.identifier)),
              )}
            </Small>
            <UnpackedFields payload={found.text} />
          </>
        )}
      </div>
    </div>
  );
}

function PictureFile({ onFound }: { onFound: (found: ScanReport | 'nothing') => void }) {
  const [error, setError] = useState<string>();
  const [name, setName] = useState<string>();
  const read = async (file: File) => {
    setError(undefined);
    setName(file.name);
    try {
      // drawn by the browser, so that every kind of picture it knows is taken
      const bitmap = await createImageBitmap(file);
      onFound((await scanImage(greyOf(bitmap, bitmap.width, bitmap.height))) ?? 'nothing');
    } catch {
      setError(filled(wording.isNotAPicture, file.name));
    }
  };
  return (
    <div>
      <FileTrigger
        acceptedFileTypes={['image/*']}
        onSelect={(files) => files?.[0] && void read(files[0])}
      >
        <QuietButton looks>{wording.chooseAPictureOf}</QuietButton>
      </FileTrigger>
      {name && <Small as="span"> {name}</Small>}
      {error && <ErrorLine>{error}</ErrorLine>}
    </div>
  );
}

/** Looks through the camera until a code is found. */
function Camera({ onFound }: { onFound: (found: ScanReport) => void }) {
  const video = useRef<HTMLVideoElement>(null);
  const [error, setError] = useState<string>();
  const [looking, setLooking] = useState(true);
  const report = useCallback(
    (found: ScanReport) => {
      setLooking(false);
      onFound(found);
    },
    [onFound],
  );
  useEffect(() => {
    if (!looking) return;
    let stopped = false;
    let stream: MediaStream | undefined;
    const look = async () => {
      try {
        if (!navigator.mediaDevices) throw new Error(wording.noCameraOnThis);
        stream = await navigator.mediaDevices.getUserMedia({
          video: { facingMode: 'environment', width: { ideal: 1280 } },
        });
      } catch (e) {
        if (!stopped) setError(cameraTrouble(e));
        return;
      }
      const element = video.current;
      if (stopped || !element) return stream.getTracks().forEach((t) => t.stop());
      element.srcObject = stream;
      await element.play().catch(() => undefined);
      while (!stopped) {
        if (element.videoWidth > 0) {
          const found = await scanImage(greyOf(element, element.videoWidth, element.videoHeight));
          if (found && !stopped) return report(found);
        }
        await new Promise((resolve) => setTimeout(resolve, 120));
      }
    };
    void look();
    return () => {
      stopped = true;
      stream?.getTracks().forEach((t) => t.stop());
    };
  }, [looking, report]);
  if (error) return <ErrorLine>{error}</ErrorLine>;
  return looking ? (
    <div>
      <video
        ref={video}
        muted
        playsInline
        aria-label={wording.cameraPicture}
        style={{ width: '100%', maxHeight: 230, background: colour.groundDeep, display: 'block' }}
      />
      <Small>{wording.holdTheCodeIn}</Small>
    </div>
  ) : (
    <div>
      <QuietButton looks onPress={() => setLooking(true)}>
        {wording.scanAgain}
      </QuietButton>
    </div>
  );
}
