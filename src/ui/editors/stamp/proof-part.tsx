'use client';

import { proofKinds, proofLengths, type ProofKind } from '../../../core/base/proof';
import { contentOf, encodeOptionsOf, type Stamp } from '../../../core/payload/stamp';
import { encode } from '../../../core/symbology';
import { ChoicePart } from '../../kit/controls';
import { useBench } from './bench';

const words: Record<ProofKind, { name: string; about: string }> = {
  shared: {
    name: 'to this Hand Stamp',
    about: 'Short. This Hand Stamp checks it with its own key.',
  },
  public: {
    name: 'to anyone',
    about:
      'Signed (Ed25519). Devices check it offline, and others with a public key. Only this Hand Stamp can create one.',
  },
};

/** To whom a code proves that it is genuine, and what that costs in modules. */
export function ProofPart({
  stamp,
  change,
}: {
  stamp: Stamp;
  change: (next: Partial<Stamp>) => void;
}) {
  const { values } = useBench();
  return (
    <>
      , proved{' '}
      <ChoicePart
        label="Who can check the proof"
        value={stamp.proofKind ?? 'shared'}
        onChange={(kind) => change({ proofKind: kind as ProofKind })}
        choices={proofKinds.map((id) => ({
          id,
          name: words[id].name,
          about: `${words[id].about} ${proofLengths[id]} characters more${size({ ...stamp, proofKind: id }, values)}.`,
        }))}
      >
        {words[stamp.proofKind ?? 'shared'].name}
      </ChoicePart>
    </>
  );
}

/** How large the code of the record in hand is with that proof, in modules. */
function size(stamp: Stamp, values: Record<string, string> | undefined): string {
  const content = values && contentOf(stamp, values);
  if (content?.state !== 'said') return '';
  try {
    const { columns, rows } = encode(stamp.symbology, content.payload, encodeOptionsOf(stamp));
    return `, ${columns} × ${rows} modules for this record`;
  } catch {
    return ', more than this code holds';
  }
}
