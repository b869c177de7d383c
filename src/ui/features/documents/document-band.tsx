'use client';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import { styled } from 'styled-components';
import { plural } from '../../../core/base/words';
import { codesOf, rowsKey } from '../../../core/documents/words';
import type { Stamp } from '../../../core/payload/stamp';
import type { Values } from '../../../core/records/columns';
import { shown } from '../../../core/records/sealed';
import { ask } from '../../kit/api';
import { goBar, ErrorLine, PlainButton, QuietButton, ZoomButtons } from '../../kit/controls';
import { useCode } from '../../kit/core-client';
import { Mark } from '../../kit/mark';
import { colour } from '../../kit/theme';
import { useHand, useJob } from '../../shell/ledger/context';
import { BlockLine } from './comes-again';
import { CodeInDocument, PictureChosen, PlaceSentence, WordsChosen } from './chosen';
import { PageView, type MarkedWords } from './page-view';
import { useDocument } from './use-document';
import { documentBand as wording } from './words';
import { withParts } from '../../kit/with-parts';

const Bench = styled.div`
  height: 100%;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  grid-template-rows: minmax(0, 1fr) 128px auto;
  > .told {
    overflow: auto;
    background: ${colour.paper};
    border-top: 1px solid ${colour.rule};
  }
  .bench {
    background: ${colour.groundDeep};
    overflow: auto;
    padding: 20px 20px 0;
  }
  ${goBar}
  .go {
    background: ${colour.paper};
  }
`;

/** What is selected in the document. */
type Chosen =
  | { kind: 'place' | 'code'; id: string }
  | { kind: 'picture'; part: number; picture: number; block: string | undefined }
  | { kind: 'words'; words: MarkedWords; block: string | undefined };

/** How many rows of a block are drawn; a run makes them all. */
const mostDrawn = 60;

const seen = (values: Values): Values =>
  Object.fromEntries(Object.entries(values).map(([id, value]) => [id, shown(value)]));

/**
 * The document as paper, with the selected record or as the example was; everything in it can be
 * selected.
 */
export function DocumentBand() {
  const { job, jump } = useJob();
  const { handRow } = useHand();
  const { ground, facts, error } = useDocument();
  const host = useRef<HTMLDivElement>(null);
  const began = useRef(false);
  const [view, setView] = useState<PageView>();
  const [failed, setFailed] = useState<string>();
  const [asExample, setAsExample] = useState(false);
  const [chosen, setChosen] = useState<Chosen>();
  const [pages, setPages] = useState(0);
  const [pageWidth, setPageWidth] = useState(794);
  const [zoom, setZoom] = useState(1);
  const bench = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState(660);
  useEffect(() => {
    const element = bench.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setRoom(element.clientWidth - 40));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const scale = Math.min(1.4, room / pageWidth) * zoom;
  const [codes, setCodes] = useState<ReadonlyMap<string, string>>(new Map());
  useEffect(() => {
    let stale = false;
    void (async () => {
      try {
        const response = await fetch(`/api/documents/${ground.document}/shown`);
        if (!response.ok) throw new Error(wording.theDocumentCouldNot);
        const copy = await response.blob();
        if (stale || !host.current) return;
        const made = await PageView.of(host.current, copy);
        if (!stale) setView(made);
      } catch (problem) {
        if (!stale) setFailed(problem instanceof Error ? problem.message : String(problem));
      }
    })();
    return () => {
      stale = true;
    };
  }, [ground.document]);
  const { data: rows } = useQuery({
    queryKey: ['document-rows', job.id, job.version, handRow?.id],
    queryFn: () => ask('findRows', { params: { id: job.id }, body: { record: handRow!.id } }),
    enabled: handRow !== undefined && ground.blocks.length > 0,
    placeholderData: (before) => before,
  });
  const values = useMemo(
    () => (asExample || !handRow ? undefined : seen(handRow.values)),
    [asExample, handRow],
  );
  const seenRows = useMemo(
    () =>
      Object.fromEntries(
        Object.entries(rows?.rows ?? {}).map(([block, list]) => [
          block,
          list.slice(0, mostDrawn).map(seen),
        ]),
      ),
    [rows],
  );
  const beside = useMemo(
    () => ({
      ...handRow?.values,
      ...Object.fromEntries(
        ground.blocks.map((block) => [
          rowsKey(block),
          JSON.stringify((rows?.rows[block.id] ?? []).slice(0, mostDrawn)),
        ]),
      ),
    }),
    [handRow, ground.blocks, rows],
  );
  const chosenKey =
    chosen?.kind === 'picture'
      ? `${chosen.part}-${chosen.picture}`
      : chosen?.kind === 'words'
        ? undefined
        : chosen?.id;
  useEffect(() => {
    if (!view || !facts) return;
    view.show({
      ground,
      parts: facts.texts.map((t) => t.part),
      values,
      rows: seenRows,
      codes,
      chosen: chosenKey,
    });
    setPages(view.pages);
    setPageWidth(view.width);
  }, [view, facts, ground, values, seenRows, codes, chosenKey]);
  const press = (e: React.SyntheticEvent) => {
    const target = e.nativeEvent.composedPath()[0] ?? null;
    const { place, code, picture, block } = PageView.chosenBy(target);
    const words =
      place || code || picture ? undefined : (view?.marked() ?? PageView.emptyAt(target));
    if (code) setChosen({ kind: 'code', id: code });
    else if (place) setChosen({ kind: 'place', id: place });
    else if (picture) {
      const [part = 0, number = 0] = picture.split('-').map(Number);
      setChosen({ kind: 'picture', part, picture: number, block });
    } else setChosen(words && { kind: 'words', words, block });
  };
  const place =
    chosen?.kind === 'place' ? ground.places.find((p) => p.id === chosen.id) : undefined;
  const code = chosen?.kind === 'code' ? ground.codes.find((c) => c.id === chosen.id) : undefined;
  const none = () => setChosen(undefined);
  return (
    <Bench>
      {codesOf(ground, job.document.stamps, beside).map(({ key, stamp, values: of }) => (
        <CodeOf
          key={key}
          stamp={stamp}
          values={handRow && of}
          onDrawn={(address) =>
            setCodes((now) => (now.get(key) === address ? now : new Map(now).set(key, address)))
          }
        />
      ))}
      <div className="bench" ref={bench}>
        {(error ?? failed) && <ErrorLine>{failed ?? error?.message}</ErrorLine>}
        {!view && !failed && <p role="status">{wording.drawingTheDocument}</p>}
        {/* what is pressed are the buttons inside it, which are no elements of this page */}
        {/* eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions */}
        <div
          ref={host}
          // keeps the focus while words are marked: otherwise the ledger takes it, and the marking
          // ends
          tabIndex={-1}
          style={{ zoom: scale, outline: 'none' }}
          role="group"
          aria-label={`${ground.name}, ${values ? wording.forTheSelectedRecord : wording.theOriginalExample}`}
          onMouseDown={() => {
            began.current = true;
          }}
          // not a press that began in a popover that is gone
          onMouseUp={(e) => {
            if (began.current) press(e);
            began.current = false;
          }}
          onKeyDown={(e) => {
            if (e.key !== 'Enter' && e.key !== ' ') return;
            e.preventDefault();
            e.stopPropagation();
            press(e);
          }}
        />
      </div>
      <div className="told">
        {place ? (
          <>
            <PlaceSentence key={place.id} place={place} onGone={none} />
            <BlockLine of={place.block} onGone={none} />
          </>
        ) : code ? (
          <>
            <CodeInDocument code={code} onGone={none} />
            <BlockLine of={code.block} onGone={none} />
          </>
        ) : chosen?.kind === 'picture' ? (
          <PictureChosen
            part={chosen.part}
            picture={chosen.picture}
            block={chosen.block}
            onAdded={(id) => setChosen({ kind: 'code', id })}
          />
        ) : chosen?.kind === 'words' ? (
          <WordsChosen
            words={chosen.words}
            block={chosen.block}
            onAdded={(id) => setChosen({ kind: id.startsWith('code') ? 'code' : 'place', id })}
          />
        ) : (
          <InTheDocument onPick={setChosen} />
        )}
      </div>
      <div className="go">
        <span style={{ whiteSpace: 'nowrap' }}>{wording.goTo}</span>
        <QuietButton looks onPress={() => jump('longest')}>
          {wording.longest}
        </QuietButton>
        <QuietButton looks isDisabled={job.bands.piece === 0} onPress={() => jump('over')}>
          {withParts(wording.needsALook, job.bands.piece.toLocaleString('en'))}
        </QuietButton>
        <QuietButton looks aria-pressed={asExample} onPress={() => setAsExample(true)}>
          {wording.theExample}
        </QuietButton>
        <QuietButton looks aria-pressed={!asExample} onPress={() => setAsExample(false)}>
          {wording.theSelectedRecord}
        </QuietButton>
        {pages > 0 && (
          <span className="measure">
            {withParts(
              wording.at,
              pages,
              plural(pages, 'page'),
              Math.round(scale * 100),
              <ZoomButtons zoom={zoom} setZoom={setZoom} most={4} />,
            )}
          </span>
        )}
      </div>
    </Bench>
  );
}

/** Draws a code of the selected record and returns its picture. */
function CodeOf({
  stamp,
  values,
  onDrawn,
}: {
  stamp: Stamp | undefined;
  values: Values | undefined;
  onDrawn: (address: string) => void;
}) {
  const drawn = useCode(stamp, values);
  useEffect(() => {
    if (!drawn) return;
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${drawn.columns} ${drawn.rows}">${drawn.svg}</svg>`;
    onDrawn(`data:image/svg+xml,${encodeURIComponent(svg)}`);
    // the picture is all that it depends on
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [drawn]);
  return null;
}

/** All that follows the record, to be chosen by its name too. */
function InTheDocument({ onPick }: { onPick: (chosen: Chosen) => void }) {
  const { job } = useJob();
  const { handRow } = useHand();
  const { ground } = useDocument();
  const trouble = handRow?.notes.filter((n) => n.band === 'piece') ?? [];
  const link = { textDecoration: 'underline', textUnderlineOffset: 3, padding: '3px 0' } as const;
  return (
    <div style={{ padding: '9px 20px', fontSize: 13.5, color: colour.inkSoft }}>
      {trouble.map(({ text }) => (
        <p key={text} style={{ color: colour.look }}>
          <Mark name="look" /> {text}.
        </p>
      ))}
      <p style={{ display: 'flex', flexWrap: 'wrap', gap: '0 14px' }}>
        {withParts(
          wording.inIt,
          ground.codes.map((code) => (
            <PlainButton
              looks
              key={code.id}
              style={{ ...link, color: colour.ink }}
              onPress={() => onPick({ kind: 'code', id: code.id })}
            >
              {withParts(
                wording.codeOf,
                job.document.stamps.find((s) => s.id === code.stamp)?.name ?? wording.aDeletedStamp,
              )}
            </PlainButton>
          )),
          ground.places.map((place) => (
            <PlainButton
              looks
              key={place.id}
              style={{ ...link, color: place.likely ? colour.look : colour.ink }}
              onPress={() => onPick({ kind: 'place', id: place.id })}
            >
              {place.likely && <Mark name="look" />} {place.example}
            </PlainButton>
          )),
          ground.codes.length + ground.places.length === 0 && wording.nothingFollowsTheRecord,
        )}
      </p>
    </div>
  );
}
