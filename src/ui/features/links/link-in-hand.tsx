'use client';
import { usualSymbology } from '../../../core/symbology';
import { addressPurpose } from '../../../core/payload/purposes';
import { useQuery } from '@tanstack/react-query';
import { Link } from '../../kit/link';
import { useState, type ReactNode } from 'react';
import { styled } from 'styled-components';
import type { LinkChange, LinkChangeView, LinkView } from '../../../contract';
import { counted } from '../../../core/base/words';
import { spokenCode } from '../../../core/links/code';
import { deviceWords, devices } from '../../../core/links/device';
import type { Leads } from '../../../core/links/leading';
import type { Stamp } from '../../../core/payload/stamp';
import { ask } from '../../kit/api';
import {
  Chip,
  ErrorLine,
  MainButton,
  Part,
  QuietButton,
  Sentence,
  Small,
  Words,
} from '../../kit/controls';
import { when } from '../../kit/dates';
import { useMay } from '../../kit/me';
import { Mark } from '../../kit/mark';
import { colour, font } from '../../kit/theme';
import { TwoCodes } from '../../kit/two-codes';
import { DailyChart, WeekChart } from './charts';
import { LeadsEditor, PeekPart, SpanEditor } from './rule-parts';
import { answerWords, leadingWords, markOf, spanWords } from './words';
import { linkInHand as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const Panel = styled.section`
  overflow: auto;
  padding: 16px 22px 30px;
  background: ${colour.paper};
  border-left: 1px solid ${colour.rule};
  display: grid;
  gap: 14px;
  align-content: start;
  h2 {
    font: 700 18px/1.3 ${font.title};
  }
  h3 {
    font: 700 15px/1.3 ${font.title};
    margin-bottom: 6px;
  }
  .led {
    list-style: none;
    margin: 0;
    padding: 0;
  }
  .led li {
    display: grid;
    grid-template-columns: 14px 1fr auto;
    gap: 6px;
    align-items: baseline;
    padding: 7px 0;
    border-bottom: 1px solid ${colour.rule};
    font-size: 13px;
  }
  .led li span:nth-child(2) {
    overflow-wrap: anywhere;
  }
`;

/** A plain code, as both are drawn to be compared. */
const plain: Stamp = {
  id: 'plain',
  name: 'plain',
  does: addressPurpose,
  parts: [],
  symbology: usualSymbology,
  level: 'M',
  look: {
    sizeMm: 24,
    dpi: 600,
    wholeDots: true,
    foreground: '#1d1a26',
    background: '#ffffff',
    quietZone: false,
  },
};
const saying = (text: string): Stamp => ({ ...plain, parts: [{ kind: 'text', text }] });
const noValues = {};

/**
 * The selected link: where it leads as a sentence, its code with and without it, its scans, and its
 * history.
 */
export function LinkInHand({
  code,
  change,
  undo,
}: {
  code: string;
  change: (next: LinkChange) => void;
  undo: (batch: string) => void;
}) {
  const { data: link, error } = useQuery({
    queryKey: ['links', 'one', code],
    queryFn: () => ask('viewLink', { params: { code } }),
    refetchInterval: 15_000,
  });
  if (error)
    return (
      <Panel aria-label={wording.theSelectedLink}>
        <ErrorLine>{error.message}</ErrorLine>
      </Panel>
    );
  if (!link)
    return (
      <Panel aria-label={wording.theSelectedLink}>
        <Small>{wording.loading}</Small>
      </Panel>
    );
  return <Shown link={link} change={change} undo={undo} />;
}

function Shown({
  link,
  change,
  undo,
}: {
  link: LinkView;
  change: (next: LinkChange) => void;
  undo: (batch: string) => void;
}) {
  const { rule, leading } = link;
  const over = rule.state === 'withdrawn';
  const said = answerWords(link.answered);
  const to = leading.kind === 'leads' ? leading.to : undefined;
  const own = link.column === null || rule.leads !== null;
  return (
    <Panel aria-label={wording.theSelectedLink}>
      <div>
        <h2>
          {link.column ? (
            link.title || wording.noTitle
          ) : (
            <TitlePart title={link.title} onUse={(title) => change({ title })} />
          )}
        </h2>
        <Small>
          {withParts(
            wording.madeByOn,
            link.list &&
              withParts(
                wording.of,
                link.job ? (
                  <Link href={`/jobs/${link.job}`}>{link.list.name}</Link>
                ) : (
                  link.list.name
                ),
              ),
            link.by,
            when(link.made),
            link.printedAt
              ? filled(wording.printedOn, when(link.printedAt))
              : wording.notPrintedYet,
          )}
        </Small>
      </div>
      <Sentence>
        <b style={{ fontFamily: font.code }}>{spokenCode(link.code)}</b>{' '}
        {over
          ? wording.isPermanentlyWithdrawn
          : withParts(
              wording.leadsToPeopleWho,
              <Part
                label={wording.whereItLeads}
                editor={(close) => (
                  <LeadsEditor
                    now={rule.leads}
                    column={link.column?.name}
                    onUse={(leads) => {
                      change({ leads });
                      close();
                    }}
                  />
                )}
              >
                {to ??
                  (own ? (
                    <LeadsWords leads={rule.leads!} link={link} />
                  ) : (
                    <LeadsWords leads={link.column!.leads} link={link} />
                  ))}
              </Part>,
              !own && wording.whichFollowsItsRecord,
              <Part
                label={wording.howLongItWorks}
                editor={(close) => (
                  <SpanEditor
                    now={rule}
                    onUse={(next) => {
                      change(next);
                      close();
                    }}
                  />
                )}
              >
                {spanWords(rule)}
              </Part>,
              <PeekPart peeks={rule.peeks} onUse={(peeks) => change({ peeks })} />,
            )}
      </Sentence>
      {(leading.kind === 'nowhere' || said) && !over && (
        <p
          style={{
            display: 'flex',
            gap: 8,
            alignItems: 'baseline',
            color: colour.look,
            fontSize: 13.5,
          }}
        >
          <Mark {...markOf(link)} />
          {leading.kind === 'nowhere'
            ? `It ${leadingWords(leading)}.`
            : filled(wording.checked, said)}
        </p>
      )}
      {to && (
        <TwoCodes
          stamp={plain}
          values={noValues}
          widest={100}
          codes={[
            { name: wording.theWebAddressItself, stamp: saying(to) },
            { name: wording.withThisLinkSame, stamp: saying(link.address) },
          ]}
        />
      )}
      <Small style={{ overflowWrap: 'anywhere' }}>
        {withParts(
          wording.addPreviewToSee,
          <span style={{ fontFamily: font.code }}>{link.address}</span>,
        )}
      </Small>
      <div>
        <h3>{wording.scansADay}</h3>
        {link.scans === 0 ? (
          <Small>{link.printed ? wording.noScansSinceIt : wording.noScansYet}</Small>
        ) : (
          <DailyChart days={link.daily} />
        )}
      </div>
      {link.scans > 0 && (
        <div>
          <h3>{wording.byWeekdayAndHour}</h3>
          <WeekChart hours={link.hours} />
          <Small style={{ marginTop: 6 }}>
            {withParts(
              wording.weDoNotStore,
              counted(link.scans, 'scan'),
              devices
                .filter((d) => d !== 'robot' && link.devices[d])
                .map((d) => `${deviceWords[d]} ${link.devices[d]!.toLocaleString('en')}`)
                .join(', '),
              link.devices.robot
                ? filled(wording.moreByBotsOr, counted(link.devices.robot, 'time'))
                : '',
            )}
          </Small>
        </div>
      )}
      <History link={link} undo={undo} />
    </Panel>
  );
}

function TitlePart({ title, onUse }: { title: string; onUse: (title: string) => void }) {
  return (
    <Part
      label={wording.nameOfTheLink}
      editor={(close) => <TitleEditor title={title} onUse={(next) => (onUse(next), close())} />}
    >
      {title || wording.noTitle}
    </Part>
  );
}

function TitleEditor({ title, onUse }: { title: string; onUse: (title: string) => void }) {
  const [text, setText] = useState(title);
  const use = () => text.trim() !== '' && onUse(text.trim());
  return (
    <>
      <Words
        label={wording.nameOfTheLink}
        value={text}
        onChange={setText}
        autoFocus
        onEnter={use}
      />
      <div>
        <MainButton isDisabled={text.trim() === ''} onPress={use}>
          {wording.apply}
        </MainButton>
      </div>
    </>
  );
}

/** Leads as words and chips, of whatever list they are. */
function LeadsWords({ leads, link }: { leads: Leads; link: LinkView }) {
  return (
    <>
      {leads.parts.map((part, i) =>
        part.kind === 'text' ? (
          <span key={i}>{part.text}</span>
        ) : (
          <Chip key={i}>
            {link.columns.find((c) => c.id === part.column)?.name ?? wording.aDeletedColumn}
          </Chip>
        ),
      )}
    </>
  );
}

function History({ link, undo }: { link: LinkView; undo: (batch: string) => void }) {
  const may = useMay();
  if (link.history.length === 0) return null;
  return (
    <div>
      <h3>{wording.changes}</h3>
      <ul className="led">
        {link.history.map((line, i) => (
          <li key={i}>
            <Mark name={line.undone ? 'out' : i === 0 ? 'ready' : 'none'} />
            <span>
              {changeWords(line, link)}
              <Small>
                {when(line.at)}, {line.by}
                {line.together > 1 &&
                  filled(wording.withOthers, (line.together - 1).toLocaleString('en'))}
                {line.of === 'column' && wording.forTheWholeColumn}
                {line.undone && wording.undone}
              </Small>
            </span>
            {may && line.of === 'link' && !line.undone && line.after.state !== 'withdrawn' && (
              <QuietButton onPress={() => undo(line.batch)}>{wording.undo}</QuietButton>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}

function changeWords({ before, after }: LinkChangeView, link: LinkView) {
  const words: ReactNode[] = [];
  if (after.leads !== undefined)
    words.push(
      <span key="leads">
        {after.leads
          ? withParts(wording.to, <LeadsWords leads={after.leads} link={link} />)
          : wording.followsItsRecordAgain}
        {before.leads
          ? withParts(wording.beforeTo, <LeadsWords leads={before.leads} link={link} />)
          : before.leads === null && wording.beforeItFollowedIts}
      </span>,
    );
  if (after.state === 'paused' || after.state === 'withdrawn') words.push(after.state);
  else if (after.state === 'open' || after.ends !== undefined || after.opens !== undefined)
    words.push(
      filled(
        wording.leads,
        spanWords({
          state: 'open',
          opens: after.opens ?? null,
          ends: after.ends ?? null,
          after: after.after ?? null,
        }),
      ),
    );
  if (after.peeks !== undefined)
    words.push(after.peeks ? wording.showsFirstWhereIt : wording.goesStraightThere);
  if (after.title !== undefined) words.push(filled(wording.renamedTo, after.title));
  return words.map((word, i) => (
    <span key={i}>
      {i > 0 && '; '}
      {word}
    </span>
  ));
}
