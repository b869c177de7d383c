'use client';
import { usualSymbology } from '../../../core/symbology';
import { useContext, useState } from 'react';
import { linkAddress } from '../../../core/links/code';
import { linkOf, sampleCode, withoutLink, type HeldLink } from '../../../core/links/held';
import { doorTrouble } from '../../../core/payload/door';
import { addressPurpose } from '../../../core/payload/purposes';
import type { Stamp } from '../../../core/payload/stamp';
import { secretsOf, type Column } from '../../../core/records/columns';
import { linkTo } from '../../../core/records/beginnings';
import { columnsIn } from '../../../core/records/parts';
import { freeName } from '../../../core/run/names';
import { ask } from '../../kit/api';
import {
  ChoicePart,
  MainButton,
  Part,
  PlainButton,
  Sentence,
  Small,
  Warning,
} from '../../kit/controls';
import { useOurAddresses } from '../../kit/our-addresses';
import { TwoCodes } from '../../kit/two-codes';
import { JobScreenContext, useHand } from '../../shell/ledger/context';
import { ContentEditor } from './content-editor';
import { PartsWords } from './purpose-part';
import { linkPart as wording } from './words';
import { withParts } from '../../kit/with-parts';

type Whom = 'anyone' | 'one';

const whom = [
  {
    id: 'anyone',
    name: wording.forAnyone,
    about: wording.n9CharactersTheSmallest,
  },
  {
    id: 'one',
    name: wording.forOnePersonEach,
    about: wording.n13CharactersThatCannot,
  },
] as const;

/** Whether the codes contain the web address itself or a short link. */
export function LinkPart({
  stamp,
  change,
}: {
  stamp: Stamp;
  change: (next: Partial<Stamp>) => void;
}) {
  const { job } = useContext(JobScreenContext)!;
  const held = linkOf(stamp, job.list.columns);
  return (
    <Part
      label={wording.withALinkOr}
      editor={(close) => <Ways stamp={stamp} held={held} change={change} close={close} />}
    >
      {held ? wording.throughAShortLink : wording.theWebAddressItself}
    </Part>
  );
}

/** Where the links of a stamp lead, in place of the content in its sentence. */
export function LeadsPart({ held }: { held: HeldLink }) {
  const { job, changeList } = useContext(JobScreenContext)!;
  const { column, source } = held;
  const before = job.list.columns.slice(0, job.list.columns.indexOf(column));
  return (
    <Part
      label={wording.whereTheLinksLead}
      editor={(close) => (
        <>
          <Small style={{ maxWidth: 440 }}>
            {withParts(wording.everyLinkOfLeads, column.name)}
          </Small>
          <ContentEditor
            parts={source.parts}
            columns={before}
            stamp={{ ...pageStamp, parts: source.parts, spaces: source.spaces }}
            onChange={(parts, spaces) => {
              void changeList(() => keepLeads(job.list.id, column, { ...source, parts, spaces }));
              close();
            }}
          />
        </>
      )}
    >
      <PartsWords parts={source.parts} empty={wording.empty} />
    </Part>
  );
}

/** A stamp that opens a page, to weigh its content alone. */
const pageStamp: Stamp = {
  id: 'leads',
  name: 'leads',
  does: addressPurpose,
  parts: [],
  symbology: usualSymbology,
  level: 'M',
  look: {
    sizeMm: 24,
    dpi: 600,
    wholeDots: true,
    foreground: '#000000',
    background: '#ffffff',
    quietZone: true,
  },
};

const keepLeads = (list: number, column: Column, source: HeldLink['source']) =>
  ask('keepWorkedColumn', {
    params: { id: list },
    body: {
      id: column.id,
      name: column.name,
      worked: { source, steps: [] },
      was: { name: column.name, worked: column.worked! },
    },
  });

function Ways({
  stamp,
  held,
  change,
  close,
}: {
  stamp: Stamp;
  held: HeldLink | undefined;
  change: (next: Partial<Stamp>) => void;
  close: () => void;
}) {
  const { job, changeList } = useContext(JobScreenContext)!;
  const { handRow } = useHand();
  const { columns } = job.list;
  const addresses = useOurAddresses();
  const secret = new Set(secretsOf(columns).map((c) => c.id));
  const must = columnsIn(stamp.parts).some((id) => secret.has(id));
  const [of, setOf] = useState<Whom>(must ? 'one' : 'anyone');
  const direct = held ? withoutLink(stamp, held) : stamp;
  const sample: Stamp =
    held || !addresses
      ? stamp
      : {
          ...stamp,
          parts: [{ kind: 'text', text: linkAddress(addresses.links, sampleCode(of)) }],
        };
  const begin = async () => {
    const made = await changeList(() =>
      ask('keepWorkedColumn', {
        params: { id: job.list.id },
        body: {
          name: freeName(
            wording.link,
            columns.map((c) => c.name),
          ),
          worked: {
            source: linkTo(of, stamp),
            steps: [],
          },
        },
      }),
    );
    if (made) change({ parts: [{ kind: 'column', column: made.id }], spaces: undefined });
  };
  return (
    <div style={{ display: 'grid', gap: 12, width: 430 }}>
      <Small>{wording.aLinkIsA}</Small>
      {addresses && handRow && (
        <TwoCodes
          stamp={stamp}
          values={handRow.values}
          codes={[
            { name: wording.theWebAddressItself2, stamp: direct },
            { name: wording.withALinkSame, stamp: sample },
          ]}
        />
      )}
      {addresses && <Reach address={addresses.links} />}
      {held ? (
        <>
          <Small>{withParts(wording.theLinksStayWith, held.column.name)}</Small>
          <div>
            <PlainButton
              onPress={() => {
                change({ parts: held.source.parts, spaces: held.source.spaces });
                close();
              }}
            >
              {wording.putTheWebAddress}
            </PlainButton>
          </div>
        </>
      ) : (
        <>
          <Sentence $minor>
            {withParts(
              wording.eachRecordGetsA,
              must ? (
                <b>{wording.forOnePersonEach}</b>
              ) : (
                <ChoicePart label={wording.whoItIsFor} value={of} onChange={setOf} choices={whom} />
              ),
              must && wording.becauseItLeadsTo,
            )}
          </Sentence>
          <div>
            <MainButton
              isDisabled={stamp.parts.length === 0}
              onPress={() => {
                void begin();
                close();
              }}
            >
              {wording.useShortLinks}
            </MainButton>
          </div>
        </>
      )}
    </div>
  );
}

/** The same for the current address of our links. */
export function OurReach() {
  const addresses = useOurAddresses();
  return addresses ? <Reach address={addresses.links} /> : null;
}

/** Warns if nobody outside can open an address in the codes. */
function Reach({ address }: { address: string }) {
  const trouble = doorTrouble(address);
  if (!trouble) return null;
  return (
    <Warning>{withParts(wording.youCanChangeThe, new URL(address).host, trouble.message)}</Warning>
  );
}
