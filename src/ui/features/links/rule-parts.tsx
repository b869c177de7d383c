'use client';

import { useState } from 'react';
import type { LinkChange } from '../../../contract';
import { leadsTrouble, type Leads, type LinkRule } from '../../../core/links/leading';
import { ChoicePart, ErrorLine, MainButton, PlainButton, Small, Words } from '../../kit/controls';
import { Pick } from '../../kit/pick';
import { useOurAddresses } from '../../kit/our-addresses';

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

/** Points links to a fixed address, or back to where those of their column lead. */
export function LeadsEditor({
  now,
  column,
  onUse,
}: {
  now: Leads | null;
  /** What those of its column lead to, in words; left out where there is none. */
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
        label="Web address it leads to"
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
        <Small>Takes effect at once, also for printed codes. You can undo it.</Small>
      )}
      <div style={{ display: 'flex', gap: 8, flexWrap: 'wrap' }}>
        <MainButton isDisabled={text.trim() === '' || trouble !== undefined} onPress={use}>
          Change address
        </MainButton>
        {column !== undefined && now !== null && (
          <PlainButton onPress={() => onUse(null)}>Follow {column} again</PlainButton>
        )}
      </div>
    </div>
  );
}

type Span = Pick<LinkRule, 'state' | 'opens' | 'ends' | 'after'>;

/** From when and until when links lead anywhere; paused; withdrawn for ever. */
export function SpanEditor({ now, onUse }: { now: Span; onUse: (change: LinkChange) => void }) {
  const hosts = useOurHosts();
  const [kind, setKind] = useState<'open' | 'paused' | 'withdrawn'>(now.state);
  const [opens, setOpens] = useState(now.opens ?? '');
  const [ends, setEnds] = useState(now.ends ?? '');
  const [after, setAfter] = useState(now.after ?? '');
  const trouble =
    opens && ends && opens > ends
      ? { message: 'It would end before it begins.', mend: 'Swap the two days.' }
      : after.trim() === ''
        ? undefined
        : leadsTrouble({ parts: [{ kind: 'text', text: after.trim() }] }, hosts);
  return (
    <div style={{ display: 'grid', gap: 10, width: 380 }}>
      <Pick
        label="State"
        value={kind}
        onChange={setKind}
        choices={[
          { id: 'open', name: 'works' },
          { id: 'paused', name: 'is paused' },
          { id: 'withdrawn', name: 'is permanently withdrawn' },
        ]}
      />
      {kind === 'open' && (
        <>
          <div style={{ display: 'flex', gap: 12 }}>
            <Words label="From this day" type="date" value={opens} onChange={setOpens} />
            <Words label="Until this day" type="date" value={ends} onChange={setEnds} />
          </div>
          {ends && (
            <Words
              label="After that, lead to (leave blank to show “This link no longer works”)"
              value={after}
              onChange={setAfter}
            />
          )}
        </>
      )}
      {kind === 'paused' && <Small>People who scan it read that it is paused.</Small>}
      {kind === 'withdrawn' && (
        <Small>People who scan it read that it is withdrawn. You cannot undo this.</Small>
      )}
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
          {kind === 'withdrawn' ? 'Withdraw link permanently' : 'Apply'}
        </MainButton>
      </div>
    </div>
  );
}

/** Whether whoever scans it sees first where it goes. */
export function PeekPart({ peeks, onUse }: { peeks: boolean; onUse: (peeks: boolean) => void }) {
  return (
    <ChoicePart
      label="What people see after a scan"
      value={peeks ? 'first' : 'straight'}
      onChange={(id) => onUse(id === 'first')}
      choices={[
        {
          id: 'straight',
          name: 'go straight there',
          about: 'Add /preview to the address to see first where it leads.',
        },
        {
          id: 'first',
          name: 'see first where it leads',
          about: 'A page shows the address. One more press opens it.',
        },
      ]}
    />
  );
}
