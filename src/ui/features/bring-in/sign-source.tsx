'use client';
import { addressPurpose } from '../../../core/payload/purposes';
import { useMutation } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { starters } from '../../../core/piece/starters';
import { keyIsSaid, sheetFor, sheetPurposes } from '../../../core/payload/sheets';
import { ask } from '../../kit/api';
import {
  ChoicePart,
  ErrorLine,
  MainButton,
  Measure,
  Part,
  Sentence,
  Small,
  Words,
} from '../../kit/controls';
import { signSource as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/**
 * A piece that is the same every time: the content of its code and its text are typed here, without
 * a list.
 */
export function SignSource() {
  const router = useRouter();
  const [purpose, setPurpose] = useState<string>(addressPurpose);
  const [design, setDesign] = useState('door-sign');
  const [copies, setCopies] = useState(1);
  const [values, setValues] = useState<Record<string, string>>({});
  const set = (heading: string) => (text: string) => setValues({ ...values, [heading]: text });
  const columns = sheetFor(purpose);
  const said = columns.filter((c) => c.field || (c.role === 'key' && keyIsSaid(purpose)));
  const words = values.Name?.trim() ?? '';
  const start = useMutation({
    mutationFn: () =>
      ask('startTypedList', {
        body: { name: words, purpose, sign: { design, values, copies } },
      }),
    onSuccess: ({ job }) => router.push(`/jobs/${job}?band=piece`),
  });
  return (
    <>
      <h2>{wording.aPosterWithoutA}</h2>
      <Sentence>
        {withParts(
          wording.aWhoseScan,
          <ChoicePart
            label={wording.kindOfPiece}
            value={design}
            onChange={setDesign}
            choices={starters.map(({ id, name, about }) => ({
              id,
              name: name.toLowerCase(),
              about,
            }))}
          />,
          <ChoicePart
            label={wording.whatAScanDoes}
            value={purpose}
            onChange={setPurpose}
            choices={sheetPurposes.map((p) => ({ id: p.id, name: p.does }))}
          />,
          <Part
            label={wording.copiesOfThePoster}
            editor={
              <Measure
                label={wording.howMany}
                value={copies}
                min={1}
                max={1000}
                step={1}
                onChange={setCopies}
              />
            }
          >
            {copies === 1 ? 'once' : filled(wording.copies, copies)}
          </Part>,
        )}
      </Sentence>
      <div style={{ display: 'grid', gap: 10, maxWidth: 420 }}>
        <Words label={wording.textOnIt} value={values.Name ?? ''} onChange={set(wording.name)} />
        {said.map(({ heading }) => (
          <Words
            key={heading}
            label={heading}
            value={values[heading] ?? ''}
            onChange={set(heading)}
          />
        ))}
      </div>
      <div>
        <MainButton
          isDisabled={
            start.isPending || words === '' || said.every((c) => !values[c.heading]?.trim())
          }
          onPress={() => start.mutate()}
        >
          {wording.createPoster}
        </MainButton>
      </div>
      <Small>{wording.itOpensAsIt}</Small>
      {start.error && <ErrorLine>{start.error.message}</ErrorLine>}
    </>
  );
}
