'use client';

import { styled } from 'styled-components';
import { Page } from '../../kit/index-table';
import { colour, font } from '../../kit/theme';
import { InTray } from './in-tray';
import { OutTray } from './out-tray';
import { Printers } from './printers';
import { StandInProgram } from './program';
import { postRoom as wording } from './words';

const Section = styled.section`
  padding: 16px 0 24px;
  border-top: 1.5px solid ${colour.ink};
  h2 {
    font: 700 18px/1.3 ${font.title};
    margin-bottom: 8px;
  }
`;

/** The Post room: what comes in, what goes out, what prints. */
export function PostRoom() {
  return (
    <Page>
      <header>
        <h1>{wording.postRoom}</h1>
      </header>
      <Section aria-label={wording.inTray}>
        <h2>{wording.inTray}</h2>
        <InTray />
      </Section>
      <Section aria-label={wording.outTray}>
        <h2>{wording.outTray}</h2>
        <OutTray />
      </Section>
      <Section aria-label={wording.printers}>
        <h2>{wording.printers}</h2>
        <Printers />
      </Section>
      <Section aria-label={wording.programs}>
        <h2>{wording.programs}</h2>
        <StandInProgram />
      </Section>
    </Page>
  );
}
