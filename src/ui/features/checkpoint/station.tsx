'use client';

import { useCallback, useEffect, useRef, useState, type ReactNode } from 'react';
import { FileTrigger } from 'react-aria-components';
import { styled } from 'styled-components';
import { counted } from '../../../core/base/words';
import { answerWords } from '../../../core/checkpoint/answer';
import { ask } from '../../kit/api';
import { greyOf } from '../../kit/camera';
import { ErrorLine, PlainButton, QuietButton, Small, Words } from '../../kit/controls';
import { scanImage } from '../../kit/core-client';
import { remembered } from '../../kit/remembered';
import { colour, font } from '../../kit/theme';
import { CameraEye } from './camera';
import { AnswerShape, grounds } from './shapes';
import { useTypedReader } from './typed-reader';
import { useStation, type Outcome, type Station } from './use-station';
import { atShort } from './words';
import { station as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const Frame = styled.div`
  display: grid;
  grid-template-rows: auto auto minmax(0, 1fr) auto;
  height: 100%;
  min-height: 0;
  max-width: 760px;
  width: 100%;
  margin: 0 auto;
  background: ${colour.ground};
  .top {
    display: flex;
    gap: 10px;
    align-items: baseline;
    padding: 10px 14px 8px;
    border-bottom: 1.5px solid ${colour.ink};
    h1 {
      font: 700 17px/1.25 ${font.title};
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
      flex: 1;
      min-width: 0;
    }
    .count {
      font: 400 15px/1.2 ${font.code};
      white-space: nowrap;
    }
  }
  .line {
    display: flex;
    gap: 10px;
    justify-content: space-between;
    padding: 4px 14px;
    font-size: 12.5px;
    color: ${colour.inkSoft};
    background: ${colour.groundDeep};
  }
  .line.apart {
    background: ${colour.lookWash};
    color: ${colour.look};
  }
  .middle {
    display: grid;
    grid-template-rows: auto minmax(0, 1fr);
    min-height: 0;
  }
  .eye {
    height: min(34vh, 300px);
  }
  .foot {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    padding: 10px 14px;
    border-top: 1px solid ${colour.rule};
    button {
      min-height: 44px;
    }
  }
`;

const Says = styled.section<{ $ground: string; $ink: string }>`
  background: ${(p) => p.$ground};
  color: ${(p) => p.$ink};
  padding: 16px 18px;
  overflow: auto;
  min-height: 0;
  ${(p) => p.$ground === colour.paper && `border: 10px double ${colour.ink};`}
  .word {
    display: flex;
    gap: 16px;
    align-items: center;
    font: 700 clamp(34px, 10vw, 56px) / 1.05 ${font.title};
    margin-bottom: 12px;
  }
  .title {
    font: 700 clamp(21px, 6vw, 30px) / 1.2 ${font.title};
    overflow-wrap: anywhere;
  }
  .shown {
    font-size: 17px;
    line-height: 1.45;
    margin: 4px 0 0;
    overflow-wrap: anywhere;
  }
  .why {
    font-size: 16px;
    line-height: 1.45;
    margin-top: 10px;
    overflow-wrap: anywhere;
  }
`;

/**
 * The screen of a checkpoint, on a phone held upright or on a desk: the answer fills it, word and
 * shape first.
 */
export function StationScreen({
  checkpoint,
  device,
  leave,
}: {
  checkpoint: number;
  device: boolean;
  /** Shown when the device was removed. */
  leave: (why: string) => ReactNode;
}) {
  const station = useStation(checkpoint, device);
  const [eye, setEye] = useState<'camera' | 'film'>();
  const film = useCallback(async () => {
    const { codes } = await ask('checkpointFilm', { params: { id: checkpoint } }, { device });
    return (await import('./film')).filmOf(codes);
  }, [checkpoint, device]);
  const [quiet, setQuiet] = useState(false);
  const [byHand, setByHand] = useState(false);
  const { outcome, state, scan } = station;
  const wrap = useWrap(checkpoint);
  const typed = (text: string) => void scan({ how: 'reader', text: wrap.strip(text) });
  useTypedReader(typed);
  if (station.shut) return leave(station.shut);
  return (
    <Frame>
      <div>
        <div className="top">
          <h1>{state?.name ?? wording.checkpoint}</h1>
          {state && (
            <span className="count">
              {withParts(
                wording.ofIn,
                state.in.toLocaleString('en'),
                state.of.toLocaleString('en'),
              )}
            </span>
          )}
        </div>
        <div className={station.apart ? 'line apart' : 'line'} role="status">
          <span>
            {[state?.device, state?.session ? `session: ${state.session}` : undefined]
              .filter(Boolean)
              .join(' · ')}
          </span>
          <span>
            {station.apart
              ? `offline${station.waiting ? `, ${counted(station.waiting, wording.scanWaits, wording.scansWait)}` : ''}`
              : state
                ? 'online'
                : wording.connectingToHandStamp}
          </span>
        </div>
      </div>
      <Twice station={station} />
      <div className="middle">
        {eye ? (
          <div className="eye">
            <CameraEye
              key={eye}
              film={eye === 'film' ? film : undefined}
              onCode={(text) => void scan({ how: 'camera', text })}
              paused={byHand}
            />
          </div>
        ) : (
          <span />
        )}
        {byHand ? (
          <ByHand
            checkpoint={checkpoint}
            device={device}
            onChoose={(found, reason) => {
              setByHand(false);
              void scan({ how: 'hand', record: found.record, reason, title: found.title });
            }}
            close={() => setByHand(false)}
          />
        ) : outcome ? (
          <OutcomeSays outcome={outcome} onWrap={wrap.learn} onAgain={typed} />
        ) : (
          <Says $ground={colour.ground} $ink={colour.ink}>
            <p className="title">{wording.scanACode}</p>
            <p className="why">{wording.useAHandHeld}</p>
          </Says>
        )}
      </div>
      <div>
        {station.trouble && (
          <ErrorLine role="alert" style={{ padding: '6px 14px 0' }}>
            {station.trouble}
          </ErrorLine>
        )}
        <div className="foot">
          <QuietButton
            looks
            aria-pressed={eye === 'camera'}
            onPress={() => setEye(eye === 'camera' ? undefined : 'camera')}
          >
            {eye === 'camera' ? wording.stopCamera : 'camera'}
          </QuietButton>
          {state?.film && (
            <QuietButton
              looks
              aria-pressed={eye === 'film'}
              onPress={() => setEye(eye === 'film' ? undefined : 'film')}
            >
              {eye === 'film' ? wording.stopFilm : wording.playAFilmInstead}
            </QuietButton>
          )}
          <QuietButton looks aria-pressed={byHand} onPress={() => setByHand(!byHand)}>
            {wording.findByName}
          </QuietButton>
          <APicture scan={scan} />
          <QuietButton
            looks
            isDisabled={!outcome || outcome.back === true || station.busy}
            onPress={() => void station.takeBack()}
          >
            {wording.undoLastScan}
          </QuietButton>
          <PlainButton
            looks
            aria-pressed={quiet}
            onPress={() => {
              setQuiet(!quiet);
              station.mute(!quiet);
            }}
          >
            {quiet ? wording.turnSoundOn : wording.turnSoundOff}
          </PlainButton>
        </div>
      </div>
    </Frame>
  );
}

function OutcomeSays({
  outcome,
  onWrap,
  onAgain,
}: {
  outcome: Outcome;
  onWrap: (wrap: { before: string; after: string }) => void;
  onAgain: (text: string) => void;
}) {
  const { answer, title, recordKey, shown, why, differs, twice, wrap, text } = outcome;
  const { ground, ink } = outcome.back
    ? { ground: colour.groundDeep, ink: colour.ink }
    : grounds[answer];
  return (
    <Says $ground={ground} $ink={ink} role="status" aria-live="assertive" key={outcome.key}>
      {outcome.back ? (
        <p className="word">{wording.undone}</p>
      ) : (
        <p className="word">
          <AnswerShape answer={answer} size={56} />
          {answerWords[answer]}
        </p>
      )}
      {title && <p className="title">{title}</p>}
      {recordKey && recordKey !== title && <p className="shown">{recordKey}</p>}
      {shown.length > 0 && (
        <p className="shown">
          {shown.map(([name, value]) => (
            <span key={name} title={name}>
              {value}
              <br />
            </span>
          ))}
        </p>
      )}
      {why && why !== differs && <p className="why">{why}</p>}
      {differs && <p className="why">{withParts(wording.but, differs)}</p>}
      {twice && (
        <p className="why">
          {withParts(wording.wasAlsoLetIn, atShort(twice.at), twice.where, twice.who)}
        </p>
      )}
      {outcome.apart && <p className="why">{wording.answeredOffline}</p>}
      {wrap && text !== undefined && (
        <div style={{ marginTop: 14, display: 'grid', gap: 8, justifyItems: 'start' }}>
          <p className="why">
            {withParts(
              wording.yourScannerSeemsTo,
              [
                wrap.before && filled(wording.before, wrap.before),
                wrap.after && filled(wording.after, wrap.after),
              ]
                .filter(Boolean)
                .join(' and '),
            )}
          </p>
          <QuietButton
            looks
            onPress={() => {
              onWrap(wrap);
              onAgain(text.slice(wrap.before.length, text.length - wrap.after.length));
            }}
          >
            {wording.removeItFromNow}
          </QuietButton>
        </div>
      )}
    </Says>
  );
}

/** What this reader puts round each code, remembered on the device. */
function useWrap(checkpoint: number) {
  const name = `hand-stamp reader ${checkpoint}`;
  const held = useRef<{ before: string; after: string }>(undefined);
  useEffect(() => {
    const kept = remembered.get(name);
    try {
      if (kept) held.current = JSON.parse(kept) as { before: string; after: string };
    } catch {
      // what stands there is not ours
    }
  }, [name]);
  return {
    strip: (text: string): string => {
      const { before = '', after = '' } = held.current ?? {};
      const front = before !== '' && text.startsWith(before) ? text.slice(before.length) : text;
      return after !== '' && front.endsWith(after) ? front.slice(0, -after.length) : front;
    },
    learn: (wrap: { before: string; after: string }) => {
      held.current = wrap;
      remembered.set(name, JSON.stringify(wrap));
    },
  };
}

/** Codes that this device and another let in while offline, until somebody has seen them. */
function Twice({ station: { state, seen } }: { station: Station }) {
  const [first] = state?.twice ?? [];
  if (!first) return <span />;
  return (
    <div
      role="alert"
      style={{
        background: colour.lookWash,
        color: colour.look,
        padding: '8px 14px',
        display: 'flex',
        gap: 12,
        alignItems: 'center',
      }}
    >
      <p style={{ flex: 1 }}>
        {withParts(
          wording.wasLetInHere,
          <b>{first.title}</b>,
          atShort(first.at),
          atShort(first.other.at),
          first.other.where,
          first.other.who,
          state!.twice.length > 1 && filled(wording.more, state!.twice.length - 1),
        )}
      </p>
      <QuietButton looks onPress={() => seen(first.id)}>
        {wording.seen}
      </QuietButton>
    </div>
  );
}

function APicture({ scan }: { scan: Station['scan'] }) {
  const [error, setError] = useState<string>();
  const read = async (file: File) => {
    setError(undefined);
    try {
      const bitmap = await createImageBitmap(file);
      const found = await scanImage(greyOf(bitmap, bitmap.width, bitmap.height));
      if (found) await scan({ how: 'picture', text: found.text });
      else setError(wording.noCodeWasFound);
    } catch {
      setError(filled(wording.isNotAPicture, file.name));
    }
  };
  return (
    <>
      <FileTrigger
        acceptedFileTypes={['image/*']}
        onSelect={(files) => files?.[0] && void read(files[0])}
      >
        <QuietButton looks>{wording.scanAPicture}</QuietButton>
      </FileTrigger>
      {error && (
        <ErrorLine role="alert" style={{ order: 9, width: '100%' }}>
          {error}
        </ErrorLine>
      )}
    </>
  );
}

interface FoundRecord {
  record: number;
  title: string;
  key: string;
}

/** Lets in a person whose code does not read: by name or key, with a reason for the tape. */
function ByHand({
  checkpoint,
  device,
  onChoose,
  close,
}: {
  checkpoint: number;
  device: boolean;
  onChoose: (found: FoundRecord, reason: string) => void;
  close: () => void;
}) {
  const [search, setSearch] = useState('');
  const [found, setFound] = useState<FoundRecord[]>();
  const [chosen, setChosen] = useState<FoundRecord>();
  const [reason, setReason] = useState('');
  const [error, setError] = useState<string>();
  useEffect(() => {
    if (search.trim() === '') return setFound(undefined);
    const stop = new AbortController();
    const soon = setTimeout(() => {
      ask(
        'findAtCheckpoint',
        { params: { id: checkpoint }, query: { search } },
        { device, signal: stop.signal },
      ).then(
        (answer) => (setFound(answer.found), setError(undefined)),
        (e: unknown) =>
          !stop.signal.aborted && setError(e instanceof Error ? e.message : String(e)),
      );
    }, 150);
    return () => {
      clearTimeout(soon);
      stop.abort();
    };
  }, [search, checkpoint, device]);
  if (chosen)
    return (
      <Says $ground={colour.paper} $ink={colour.ink} style={{ border: 'none' }}>
        <p className="title">{chosen.title}</p>
        <p className="shown">{chosen.key}</p>
        <form
          style={{ display: 'grid', gap: 12, marginTop: 14 }}
          onSubmit={(event) => {
            event.preventDefault();
            if (reason.trim()) onChoose(chosen, reason.trim());
          }}
        >
          <Words label={wording.whyWithoutACode} value={reason} onChange={setReason} autoFocus />
          <div style={{ display: 'flex', gap: 8, flexWrap: 'wrap' }}>
            {[wording.badgeForgotten, wording.codeDoesNotRead, wording.badgeToBePrinted].map(
              (words) => (
                <PlainButton looks key={words} onPress={() => setReason(words)}>
                  {words}
                </PlainButton>
              ),
            )}
          </div>
          <div style={{ display: 'flex', gap: 8 }}>
            <QuietButton looks type="submit" isDisabled={reason.trim() === ''}>
              {wording.letIn}
            </QuietButton>
            <PlainButton looks onPress={() => setChosen(undefined)}>
              {wording.findAnotherPerson}
            </PlainButton>
          </div>
        </form>
      </Says>
    );
  return (
    <Says $ground={colour.paper} $ink={colour.ink} style={{ border: 'none' }}>
      <Words label={wording.nameOrKey} value={search} onChange={setSearch} autoFocus />
      {error && <ErrorLine role="alert">{error}</ErrorLine>}
      <ul style={{ listStyle: 'none', margin: '8px 0 0', padding: 0 }}>
        {found?.map((one) => (
          <li key={one.record}>
            <PlainButton
              looks
              onPress={() => setChosen(one)}
              style={{
                display: 'flex',
                justifyContent: 'space-between',
                gap: 12,
                width: '100%',
                minHeight: 44,
                borderBottom: `1px solid ${colour.rule}`,
                textAlign: 'left',
              }}
            >
              <span style={{ color: colour.ink }}>{one.title}</span>
              <span style={{ fontFamily: font.code }}>{one.key}</span>
            </PlainButton>
          </li>
        ))}
      </ul>
      {found?.length === 0 && <Small>{wording.noOneWithThat}</Small>}
      <PlainButton looks onPress={close} style={{ marginTop: 10 }}>
        {wording.backToScanning}
      </PlainButton>
    </Says>
  );
}
