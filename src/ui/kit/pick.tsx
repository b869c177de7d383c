'use client';

import { QuietButton, Small } from './controls';

/** A few choices as buttons in a row, one of them selected, with the label above. */
export function Pick<T extends string | number>({
  label,
  choices,
  value,
  onChange,
  looks,
}: {
  label: string;
  choices: readonly { id: T; name: string }[];
  value: T;
  onChange: (id: T) => void;
  /** It changes only the view. */
  looks?: boolean;
}) {
  return (
    <div>
      <Small style={{ marginBottom: 4 }}>{label}</Small>
      <div role="group" aria-label={label} style={{ display: 'flex', flexWrap: 'wrap', gap: 6 }}>
        {choices.map((choice) => (
          <QuietButton
            looks={looks}
            key={choice.id}
            aria-pressed={choice.id === value}
            onPress={() => onChange(choice.id)}
          >
            {choice.name}
          </QuietButton>
        ))}
      </div>
    </div>
  );
}
