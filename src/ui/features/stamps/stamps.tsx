'use client';
import { withoutStamp } from '../../../core/piece/model';
import { counted } from '../../../core/base/words';
import { joined } from '../../../core/records/beginnings';
import type { Worked } from '../../../core/records/worked';
import type { SymbologyFit } from '../../../contract';
import { mostStamps, nextStamp, type Stamp } from '../../../core/payload/stamp';
import { symbologies } from '../../../core/symbology';
import { ask } from '../../kit/api';
import { Part, PlainButton, Small, Words } from '../../kit/controls';
import { Mark } from '../../kit/mark';
import { useJob } from '../../shell/ledger/context';
import { StampSentence } from '../../editors/stamp/stamp-sentence';
import { stamps as wording } from './words';
import { filled } from '../../kit/with-parts';

const quiet = {
  padding: '2px 0',
  fontSize: 13,
  textDecoration: 'underline',
  textUnderlineOffset: 3,
} as const;

/** The sentences of all stamps of a job: the selected one whole, the others in short. */
export function StampsSentence() {
  const { job, save, changeList, stampInHand, takeStamp } = useJob();
  const { stamps } = job.document;
  const change = (id: string) => (next: Partial<Stamp>) =>
    save((d) => ({ ...d, stamps: d.stamps.map((s) => (s.id === id ? { ...s, ...next } : s)) }));
  const remove = (id: string) =>
    save((d) => ({
      ...d,
      stamps: d.stamps.filter((s) => s.id !== id),
      piece: withoutStamp(d.piece, id),
    }));
  const { columns, id: listId } = job.list;
  /**
   * A worked column that makes the values fit, and the stamp with it: the values of the list stay
   * as they are.
   */
  const mend = async (stamp: Stamp, fit: SymbologyFit) => {
    const used = stamp.parts.flatMap((p) =>
      p.kind === 'column' ? [columns.find((c) => c.id === p.column)?.name ?? ''] : [],
    );
    const base = filled(wording.for, used.join(' ') || wording.code, symbologies[fit.id].name);
    let name = base;
    for (let n = 2; columns.some((c) => c.name.toLowerCase() === name.toLowerCase()); n++)
      name = `${base} ${n}`;
    const worked: Worked = {
      source: joined(stamp.parts),
      steps: fit.steps ?? [],
    };
    const made = await changeList(() =>
      ask('keepWorkedColumn', { params: { id: listId }, body: { name, worked } }),
    );
    if (made) change(stamp.id)({ symbology: fit.id, parts: [{ kind: 'column', column: made.id }] });
  };
  const add = () => {
    const stamp = nextStamp(stamps, columns);
    save((d) => ({ ...d, stamps: [...d.stamps, stamp] }));
    takeStamp(stamp.id);
  };
  return (
    <>
      {stamps.map((stamp) => {
        const inHand = stamp.id === stampInHand?.id;
        return (
          <StampSentence
            key={stamp.id}
            stamp={stamp}
            change={change(stamp.id)}
            minor={!inHand}
            mend={(fit) => void mend(stamp, fit)}
            name={
              stamps.length > 1 ? (
                <NamePart stamp={stamp} change={change(stamp.id)} remove={() => remove(stamp.id)} />
              ) : undefined
            }
            short={
              inHand ? undefined : (
                <PlainButton looks onPress={() => takeStamp(stamp.id)} style={quiet}>
                  {wording.editStamp}
                </PlainButton>
              )
            }
            besides={
              stamps.length < mostStamps && (
                <PlainButton onPress={add} style={quiet}>
                  {wording.addAStamp}
                </PlainButton>
              )
            }
          />
        );
      })}
      {stamps.length === 0 && (
        <PlainButton onPress={add} style={quiet}>
          {wording.addAStamp}
        </PlainButton>
      )}
    </>
  );
}

function NamePart({
  stamp,
  change,
  remove,
}: {
  stamp: Stamp;
  change: (next: Partial<Stamp>) => void;
  remove: () => void;
}) {
  return (
    <>
      <Part
        label={wording.nameOfThisStamp}
        editor={(close) => (
          <>
            <Words
              label={wording.nameOfThisStamp}
              value={stamp.name}
              onChange={(name) => name && change({ name })}
              autoFocus
              onEnter={close}
            />
            <PlainButton
              onPress={() => {
                close();
                remove();
              }}
            >
              {wording.deleteStamp}
            </PlainButton>
          </>
        )}
      >
        {stamp.name}
      </Part>
      <StampCount id={stamp.id} />
      {': '}
    </>
  );
}

/** The verdicts on a stamp over the whole list. */
function StampCount({ id }: { id: string }) {
  const { job } = useJob();
  const counts = job.stampCounts[id];
  if (!counts) return null;
  const without = counts.look + counts.out;
  return (
    <Small as="span" style={{ whiteSpace: 'nowrap' }}>
      {' '}
      (<Mark name={counts.look > 0 ? 'look' : 'ready'} />{' '}
      {without === 0 ? wording.fitsAll : filled(wording.fits, counts.ready.toLocaleString('en'))}
      {counts.look > 0 && filled(wording.doNotFit, counted(counts.look, 'does', 'do'))}
      {counts.out > 0 && filled(wording.leftOut, counts.out.toLocaleString('en'))})
    </Small>
  );
}
