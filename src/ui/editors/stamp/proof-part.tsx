'use client';

import { proofKinds, proofLengths, type ProofKind } from '../../../core/base/proof';
import { contentOf, encodeOptionsOf, type Stamp } from '../../../core/payload/stamp';
import { encode } from '../../../core/symbology';
import { ChoicePart } from '../../kit/controls';
import { useBench } from './bench';
import { proofPart as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const words: Record<ProofKind, { name: string; about: string }> = {
  shared: {
    name: wording.toThisHandStamp,
    about: wording.shortThisHandStamp,
  },
  public: {
    name: wording.toAnyone,
    about: wording.signedEd25519DevicesCheck,
  },
};

/** Who can check that a code is genuine, and what that costs in squares. */
export function ProofPart({
  stamp,
  change,
}: {
  stamp: Stamp;
  change: (next: Partial<Stamp>) => void;
}) {
  const { values } = useBench();
  return withParts(
    wording.proved,
    <ChoicePart
      label={wording.whoCanCheckThe}
      value={stamp.proofKind ?? 'shared'}
      onChange={(kind) => change({ proofKind: kind as ProofKind })}
      choices={proofKinds.map((id) => ({
        id,
        name: words[id].name,
        about: filled(
          wording.charactersMore,
          words[id].about,
          proofLengths[id],
          size({ ...stamp, proofKind: id }, values),
        ),
      }))}
    >
      {words[stamp.proofKind ?? 'shared'].name}
    </ChoicePart>,
  );
}

/** The size of the selected record's code with that proof, in modules. */
function size(stamp: Stamp, values: Record<string, string> | undefined): string {
  const content = values && contentOf(stamp, values);
  if (content?.state !== 'said') return '';
  try {
    const { columns, rows } = encode(stamp.symbology, content.payload, encodeOptionsOf(stamp));
    return filled(wording.modulesForThisRecord, columns, rows);
  } catch {
    return wording.moreThanThisCode;
  }
}
