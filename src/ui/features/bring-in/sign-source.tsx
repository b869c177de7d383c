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

/**
 * A piece that is the same every time: what its code says and what stands on it are typed here, and
 * no list is needed.
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
      <h2>A poster, without a list</h2>
      <Sentence>
        A{' '}
        <ChoicePart
          label="Kind of piece"
          value={design}
          onChange={setDesign}
          choices={starters.map(({ id, name, about }) => ({ id, name: name.toLowerCase(), about }))}
        />{' '}
        whose scan{' '}
        <ChoicePart
          label="What a scan does"
          value={purpose}
          onChange={setPurpose}
          choices={sheetPurposes.map((p) => ({ id: p.id, name: p.does }))}
        />
        ,{' '}
        <Part
          label="Copies of the poster"
          editor={
            <Measure
              label="How many"
              value={copies}
              min={1}
              max={1000}
              step={1}
              onChange={setCopies}
            />
          }
        >
          {copies === 1 ? 'once' : `${copies} copies`}
        </Part>
        .
      </Sentence>
      <div style={{ display: 'grid', gap: 10, maxWidth: 420 }}>
        <Words label="Text on it" value={values.Name ?? ''} onChange={set('Name')} />
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
          Create poster
        </MainButton>
      </div>
      <Small>It opens as it will be printed. You can change text, sheet and number there.</Small>
      {start.error && <ErrorLine>{start.error.message}</ErrorLine>}
    </>
  );
}
