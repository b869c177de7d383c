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
        label="Address that it leads to"
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
        <Small>In force at once, also for what is printed. It can be taken back.</Small>
      )}
      <div style={{ display: 'flex', gap: 8, flexWrap: 'wrap' }}>
        <MainButton isDisabled={text.trim() === '' || trouble !== undefined} onPress={use}>
          Point it there
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
        label="It"
        value={kind}
        onChange={setKind}
        choices={[
          { id: 'open', name: 'leads on' },
          { id: 'paused', name: 'is paused' },
          { id: 'withdrawn', name: 'is withdrawn for ever' },
        ]}
      />
      {kind === 'open' && (
        <>
          <div style={{ display: 'flex', gap: 12 }}>
            <Words label="From this day on" type="date" value={opens} onChange={setOpens} />
            <Words label="Until this day" type="date" value={ends} onChange={setEnds} />
          </div>
          {ends && (
            <Words
              label="Then to this address; blank: it says that it has ended"
              value={after}
              onChange={setAfter}
            />
          )}
        </>
      )}
      {kind === 'paused' && <Small>Whoever scans it reads that it is paused for now.</Small>}
      {kind === 'withdrawn' && (
        <Small>
          Whoever scans it reads that it is withdrawn. This is for ever: it cannot be taken back.
        </Small>
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
          {kind === 'withdrawn' ? 'Withdraw it for ever' : 'Use this'}
        </MainButton>
      </div>
    </div>
  );
}

/** Whether whoever scans it sees first where it goes. */
export function PeekPart({ peeks, onUse }: { peeks: boolean; onUse: (peeks: boolean) => void }) {
  return (
    <ChoicePart
      label="What whoever scans it sees"
      value={peeks ? 'first' : 'straight'}
      onChange={(id) => onUse(id === 'first')}
      choices={[
        {
          id: 'straight',
          name: 'goes straight there',
          about: 'With + behind the address it still says first where it goes.',
        },
        {
          id: 'first',
          name: 'sees first where it goes',
          about: 'A page of ours says the address, with one step to it.',
        },
      ]}
    />
  );
}
