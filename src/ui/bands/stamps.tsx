'use client';

import type { Stamp } from '../../core/payload/stamp';
import { Part, PlainButton, Words } from '../controls';
import { useJob } from '../ledger/context';
import { StampSentence } from '../stamp/stamp-sentence';

/** The sentences of all stamps of a job. */
export function StampsSentence() {
  const { job, save } = useJob();
  const { stamps } = job.document;
  const change = (id: string) => (next: Partial<Stamp>) =>
    save((d) => ({ ...d, stamps: d.stamps.map((s) => (s.id === id ? { ...s, ...next } : s)) }));
  const remove = (id: string) =>
    save((d) => ({
      ...d,
      stamps: d.stamps.filter((s) => s.id !== id),
      piece: { ...d.piece, elements: d.piece.elements.filter((e) => e.kind !== 'stamp' || e.stamp !== id) },
    }));
  const add = () =>
    save((d) => {
      const number = Math.max(0, ...d.stamps.map((s) => Number(s.id.split('-')[1]))) + 1;
      return { ...d, stamps: [...d.stamps, { ...d.stamps[0], id: `stamp-${number}`, name: `Stamp ${number}` }] };
    });
  return (
    <>
      {stamps.map((stamp, i) => (
        <StampSentence
          key={stamp.id}
          stamp={stamp}
          change={change(stamp.id)}
          minor={i > 0}
          name={stamps.length > 1 ? <NamePart stamp={stamp} change={change(stamp.id)} remove={() => remove(stamp.id)} /> : undefined}
        />
      ))}
      {stamps.length < 8 && (
        <PlainButton onPress={add} style={{ padding: '2px 0', fontSize: 13, textDecoration: 'underline', textUnderlineOffset: 3 }}>
          Add a stamp
        </PlainButton>
      )}
    </>
  );
}

function NamePart({ stamp, change, remove }: { stamp: Stamp; change: (next: Partial<Stamp>) => void; remove: () => void }) {
  return (
    <>
      <Part
        label="Name of this stamp"
        editor={(close) => (
          <>
            <Words label="Name of this stamp" value={stamp.name} onChange={(name) => name && change({ name })} autoFocus onEnter={close} />
            <PlainButton
              onPress={() => {
                close();
                remove();
              }}
            >
              Take this stamp away
            </PlainButton>
          </>
        )}
      >
        {stamp.name}
      </Part>
      {': '}
    </>
  );
}
