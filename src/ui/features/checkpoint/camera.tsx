'use client';

import { useEffect, useRef, useState } from 'react';
import { styled } from 'styled-components';
import { ApiError } from '../../kit/api';
import { cameraTrouble, greyOf } from '../../kit/camera';
import { scanImage } from '../../kit/core-client';
import { ErrorLine, PlainButton } from '../../kit/controls';
import { colour, font } from '../../kit/theme';
import { camera as wording } from './words';
import { withParts } from '../../kit/with-parts';

const Box = styled.div`
  position: relative;
  background: ${colour.ink};
  height: 100%;
  overflow: hidden;
  video {
    width: 100%;
    height: 100%;
    object-fit: cover;
    display: block;
  }
  .aim {
    position: absolute;
    inset: 0;
    margin: auto;
    width: min(46%, 210px);
    aspect-ratio: 1;
    border: 2px solid ${colour.paper};
    pointer-events: none;
  }
  .tools {
    position: absolute;
    right: 6px;
    bottom: 6px;
    display: flex;
    gap: 6px;
    button {
      background: rgb(29 26 38 / 78%);
      color: ${colour.paper};
      padding: 6px 10px;
    }
  }
  .speed {
    position: absolute;
    left: 8px;
    bottom: 8px;
    color: ${colour.paper};
    background: rgb(29 26 38 / 78%);
    padding: 1px 6px;
    font: 400 11px/1.5 ${font.code};
  }
`;

/** A code that was read is not taken once more before it was out of sight for so long, in ms. */
const again = 3000;
/** Widest that a frame is looked at, in px, and the least time between two, in ms. */
const frameWidth = 960;
const frameEvery = 40;

type Torch = MediaTrackCapabilities & { torch?: boolean };

/** Reads a camera all the time and reports each code once. */
export function CameraEye({
  onCode,
  paused,
  film,
}: {
  onCode: (text: string) => void;
  paused: boolean;
  /** The film that stands in for a camera. */
  film?: () => Promise<MediaStream>;
}) {
  const video = useRef<HTMLVideoElement>(null);
  const hear = useRef(onCode);
  const rests = useRef(paused);
  const [error, setError] = useState<string>();
  const [cameras, setCameras] = useState<MediaDeviceInfo[]>([]);
  const [camera, setCamera] = useState<string>();
  const [track, setTrack] = useState<MediaStreamTrack>();
  const [torch, setTorch] = useState(false);
  const [speed, setSpeed] = useState<number>();
  useEffect(() => {
    hear.current = onCode;
    rests.current = paused;
  }, [onCode, paused]);
  useEffect(() => {
    let stopped = false;
    let stream: MediaStream | undefined;
    const seen = new Map<string, number>();
    const look = async () => {
      try {
        if (film) stream = await film();
        else if (!navigator.mediaDevices) throw new Error(wording.noCameraOnThis);
        stream ??= await navigator.mediaDevices.getUserMedia({
          video: camera
            ? { deviceId: { exact: camera }, width: { ideal: 1280 } }
            : { facingMode: 'environment', width: { ideal: 1280 } },
        });
        const all = film ? [] : await navigator.mediaDevices.enumerateDevices();
        if (!stopped) setCameras(all.filter((one) => one.kind === 'videoinput'));
      } catch (e) {
        if (!stopped) setError(e instanceof ApiError ? e.message : cameraTrouble(e));
        return;
      }
      const element = video.current;
      if (stopped || !element) return stream.getTracks().forEach((t) => t.stop());
      element.srcObject = stream;
      setTrack(stream.getVideoTracks()[0]);
      await element.play().catch(() => undefined);
      let frames = 0;
      let since = performance.now();
      while (!stopped) {
        const begun = performance.now();
        if (element.videoWidth > 0 && !rests.current) {
          const found = await scanImage(
            greyOf(element, element.videoWidth, element.videoHeight, frameWidth),
          ).catch(() => null);
          frames++;
          const now = Date.now();
          if (found && !stopped) {
            const before = seen.get(found.text);
            seen.set(found.text, now);
            if (before === undefined || now - before > again) hear.current(found.text);
          }
        }
        const now = performance.now();
        if (now - since > 1000) {
          setSpeed(Math.round((frames * 1000) / (now - since)));
          frames = 0;
          since = now;
        }
        await new Promise((resolve) =>
          setTimeout(resolve, Math.max(4, frameEvery - (performance.now() - begun))),
        );
      }
    };
    void look();
    return () => {
      stopped = true;
      stream?.getTracks().forEach((t) => t.stop());
    };
  }, [camera, film]);
  if (error)
    return (
      <div style={{ padding: 12 }}>
        <ErrorLine role="alert">{error}</ErrorLine>
      </div>
    );
  const lights = (track?.getCapabilities?.() as Torch | undefined)?.torch === true;
  return (
    <Box>
      <video ref={video} muted playsInline aria-label={wording.cameraPicture} />
      <span className="aim" />
      {speed !== undefined && <span className="speed">{withParts(wording.aSecond, speed)}</span>}
      <span className="tools">
        {lights && (
          <PlainButton
            looks
            aria-pressed={torch}
            onPress={() => {
              setTorch(!torch);
              void track
                ?.applyConstraints({ advanced: [{ torch: !torch } as MediaTrackConstraintSet] })
                .catch(() => setTorch(false));
            }}
          >
            {torch ? wording.turnLightOff : 'light'}
          </PlainButton>
        )}
        {cameras.length > 1 && (
          <PlainButton
            looks
            onPress={() => {
              const at = cameras.findIndex(
                (one) => one.deviceId === (camera ?? track?.getSettings().deviceId),
              );
              setCamera(cameras[(at + 1) % cameras.length]!.deviceId);
            }}
          >
            {wording.switchCamera}
          </PlainButton>
        )}
      </span>
    </Box>
  );
}
