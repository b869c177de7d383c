'use client';

import { useState } from 'react';
import type { LinkChange } from '../../../contract';
import { leadsTrouble, type Leads, type LinkRule } from '../../../core/links/leading';
import { ChoicePart, ErrorLine, MainButton, PlainButton, Small, Words } from '../../kit/controls';
import { Pick } from '../../kit/pick';
import { useOurAddresses } from '../../kit/our-addresses';
import { ruleParts as wording } from './words';
import { withParts } from '../../kit/with-parts';

const none = new Set<string>();

function useOurHosts(): ReadonlySet<string> {
  const now = useOurAddresses();
  return now
    ? new Set([now.base, now.links, ...now.former].map((origin) => new URL(origin).host))
    : none;
}

const textOf = (leads: Leads | null): string =>
  leads?.parts.every((p) => p.kind === 'text')
    ? leads.parts.map((p) => (p.kind === 'text' ? p.text : '')).join('')
    : '';

/** Sets a fixed web address for links, or lets them follow their column again. */
export function LeadsEditor({
  now,
  column,
  onUse,
}: {
  now: Leads | null;
  /** Where the links of the column lead, in words; undefined for single links. */
  column?: string;
  onUse: (leads: Leads | null) => void;
}) {
  const hosts = useOurHosts();
  const [text, setText] = useState(textOf(now));
  const leads: Leads = { parts: [{ kind: 'text', text: text.trim() }] };
  const trouble = text.trim() === '' ? undefined : leadsTrouble(leads, hosts);
  const use = () => text.trim() !== '' && !trouble && onUse(leads);
  return (
    <div style={{ display: 'grid', gap: 10, width: 420 }}>
      <Words
        label={wording.webAddressItLeads}
        value={text}
        onChange={setText}
        autoFocus
        onEnter={use}
      />
      {trouble ? (
        <ErrorLine style={{ fontSize: 13 }}>
          {trouble.message} {trouble.mend}
        </ErrorLine>
      ) : (
        <Small>{wording.takesEffectAtOnce}</Small>
      )}
      <div style={{ display: 'flex', gap: 8, flexWrap: 'wrap' }}>
        <MainButton isDisabled={text.trim() === '' || trouble !== undefined} onPress={use}>
          {wording.changeAddress}
        </MainButton>
        {column !== undefined && now !== null && (
          <PlainButton onPress={() => onUse(null)}>
            {withParts(wording.followAgain, column)}
          </PlainButton>
        )}
      </div>
    </div>
  );
}

type Span = Pick<LinkRule, 'state' | 'opens' | 'ends' | 'after'>;

/** From when until when links work; paused; withdrawn for good. */
export function SpanEditor({ now, onUse }: { now: Span; onUse: (change: LinkChange) => void }) {
  const hosts = useOurHosts();
  const [kind, setKind] = useState<'open' | 'paused' | 'withdrawn'>(now.state);
  const [opens, setOpens] = useState(now.opens ?? '');
  const [ends, setEnds] = useState(now.ends ?? '');
  const [after, setAfter] = useState(now.after ?? '');
  const trouble =
    opens && ends && opens > ends
      ? { message: wording.itWouldEndBefore, mend: wording.swapTheTwoDays }
      : after.trim() === ''
        ? undefined
        : leadsTrouble({ parts: [{ kind: 'text', text: after.trim() }] }, hosts);
  return (
    <div style={{ display: 'grid', gap: 10, width: 380 }}>
      <Pick
        label={wording.state}
        value={kind}
        onChange={setKind}
        choices={[
          { id: 'open', name: 'works' },
          { id: 'paused', name: wording.isPaused },
          { id: 'withdrawn', name: wording.isPermanentlyWithdrawn },
        ]}
      />
      {kind === 'open' && (
        <>
          <div style={{ display: 'flex', gap: 12 }}>
            <Words label={wording.fromThisDay} type="date" value={opens} onChange={setOpens} />
            <Words label={wording.untilThisDay} type="date" value={ends} onChange={setEnds} />
          </div>
          {ends && <Words label={wording.afterThatLeadTo} value={after} onChange={setAfter} />}
        </>
      )}
      {kind === 'paused' && <Small>{wording.peopleWhoScanIt}</Small>}
      {kind === 'withdrawn' && <Small>{wording.peopleWhoScanItRead}</Small>}
      {trouble && (
        <ErrorLine style={{ fontSize: 13 }}>
          {trouble.message} {trouble.mend}
        </ErrorLine>
      )}
      <div>
        <MainButton
          isDisabled={kind === 'open' && trouble !== undefined}
          onPress={() =>
            onUse(
              kind === 'open'
                ? {
                    state: 'open',
                    opens: opens || null,
                    ends: ends || null,
                    after: ends && after.trim() ? after.trim() : null,
                  }
                : { state: kind },
            )
          }
        >
          {kind === 'withdrawn' ? wording.withdrawLinkPermanently : wording.apply}
        </MainButton>
      </div>
    </div>
  );
}

/** Whether people who scan it see first where it leads. */
export function PeekPart({ peeks, onUse }: { peeks: boolean; onUse: (peeks: boolean) => void }) {
  return (
    <ChoicePart
      label={wording.whatPeopleSeeAfter}
      value={peeks ? 'first' : 'straight'}
      onChange={(id) => onUse(id === 'first')}
      choices={[
        {
          id: 'straight',
          name: wording.goStraightThere,
          about: wording.addPreviewToThe,
        },
        {
          id: 'first',
          name: wording.seeFirstWhereIt,
          about: wording.aPageShowsThe,
        },
      ]}
    />
  );
}
