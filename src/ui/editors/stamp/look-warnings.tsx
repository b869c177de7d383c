'use client';

import { styled } from 'styled-components';
import type { LookWarning } from '../../../core/look/warnings';
import type { Stamp } from '../../../core/payload/stamp';
import { QuietButton } from '../../kit/controls';
import { Mark } from '../../kit/mark';
import { colour } from '../../kit/theme';
import { lookWarnings as wording } from './words';

const List = styled.ul`
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
  display: grid;
  gap: 5px;
  font-size: 13px;
  color: ${colour.look};
  max-width: 620px;
  li {
    display: grid;
    grid-template-columns: 13px minmax(0, 1fr) auto;
    gap: 7px;
    align-items: baseline;
  }
`;

/** The problems of a look, each with the change that fixes it. */
export function LookWarnings({
  warnings,
  look,
}: {
  warnings: readonly LookWarning[];
  look: (fix: Partial<Stamp['look']>) => void;
}) {
  if (warnings.length === 0) return null;
  return (
    <List aria-label={wording.warnings}>
      {warnings.map((warning) => (
        <li key={warning.kind}>
          <Mark name="look" />
          <span>{warning.message}</span>
          {warning.mend && (
            <QuietButton onPress={() => look(warning.fix)}>
              {warning.mend.replace(/\.$/, '')}
            </QuietButton>
          )}
        </li>
      ))}
    </List>
  );
}
