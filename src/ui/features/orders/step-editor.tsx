'use client';

import { useState } from 'react';
import { listOf, stepSchema, type OrderStep, type StepKind } from '../../../core/orders/order';
import type { Part } from '../../../core/records/parts';
import {
  Check,
  Choose,
  MainButton,
  PlainButton,
  QuietButton,
  Small,
  Words,
} from '../../kit/controls';
import { Pick } from '../../kit/pick';
import { Scroll } from '../../kit/scroll';
import { colour } from '../../kit/theme';
import { ChipWords } from './chip-words';
import type { Held } from './use-order';
import { stepEditor as wording } from './words';

const kinds: readonly { id: StepKind; name: string; about: string }[] = [
  {
    id: 'make',
    name: wording.runAJob,
    about: wording.codesAPieceA,
  },
  {
    id: 'write',
    name: wording.writeAValueInto,
    about: wording.aDateAState,
  },
  { id: 'mail', name: wording.emailIt, about: wording.whatWasMadeBefore },
  {
    id: 'out',
    name: wording.putItIntoThe,
    about: wording.whatWasMadeBeforeAlso,
  },
  { id: 'print', name: wording.printIt, about: wording.whatWasMadeBeforeOn },
  {
    id: 'link',
    name: wording.createALink,
    about: wording.aShortAddressThat,
  },
  {
    id: 'picture',
    name: wording.publishTheCodePicture,
    about: wording.forEmailsAndWeb,
  },
  {
    id: 'take',
    name: wording.addTheFileTo,
    about: wording.forAJobThat,
  },
  {
    id: 'call',
    name: wording.callAWebAddress,
    about: wording.tellsAnotherProgramWith,
  },
  {
    id: 'each',
    name: wording.forEachRowOf,
    about: wording.everythingAfterItIs,
  },
  { id: 'stop', name: wording.stopHere, about: wording.nothingAfterItIs },
];

let given = 0;
/** A name that no step of an order has. */
function freeId(steps: readonly OrderStep[]): string {
  for (;;) {
    const id = `s${(given++).toString(36)}`;
    if (!steps.some((s) => s.id === id)) return id;
  }
}

/** One thing that an order does. */
export function StepEditor({
  held,
  at,
  onUse,
  onLeave,
  onMove,
}: {
  held: Held;
  /** Which step; one past the last for a new one. */
  at: number;
  onUse: (step: OrderStep) => void;
  onLeave?: () => void;
  onMove?: (by: -1 | 1) => void;
}) {
  const { steps } = held.view.document;
  const is = steps[at];
  const [kind, setKind] = useState<StepKind | undefined>(is?.kind);
  const [id] = useState(() => is?.id ?? freeId(steps));
  const allowed = kinds.filter(
    (k) =>
      (k.id !== 'take' || held.view.document.when.kind === 'document') &&
      (listOf(held.view.document.when) !== null ||
        (k.id !== 'write' && k.id !== 'picture' && k.id !== 'each')),
  );
  return (
    <div style={{ display: 'grid', gap: 12, minWidth: 380, maxWidth: 560 }}>
      {kind === undefined ? (
        <Choose
          label={wording.whatItDoes}
          value={undefined}
          onChange={(k) => (k === 'stop' ? onUse({ kind: 'stop', id }) : setKind(k))}
          choices={allowed}
        />
      ) : (
        <Form
          key={kind}
          held={held}
          at={at}
          kind={kind}
          id={id}
          is={is?.kind === kind ? is : undefined}
          onUse={onUse}
        />
      )}
      {onLeave && (
        <div style={{ display: 'flex', gap: 10 }}>
          <PlainButton onPress={onLeave}>{wording.deleteStep}</PlainButton>
          {at > 0 && <PlainButton onPress={() => onMove?.(-1)}>{wording.moveUp}</PlainButton>}
          {at < steps.length - 1 && (
            <PlainButton onPress={() => onMove?.(1)}>{wording.moveDown}</PlainButton>
          )}
        </div>
      )}
    </div>
  );
}

function Form({
  held,
  at,
  kind,
  id,
  is,
  onUse,
}: {
  held: Held;
  at: number;
  kind: StepKind;
  id: string;
  is: OrderStep | undefined;
  onUse: (step: OrderStep) => void;
}) {
  const [said, setSaid] = useState<Record<string, unknown>>(() => ({
    ...usual(kind, held),
    ...(is ?? {}),
    kind,
    id,
  }));
  const parsed = stepSchema.safeParse(said);
  const [told, setTold] = useState<string>();
  const say = (next: Record<string, unknown>) => {
    setTold(undefined);
    setSaid((s) => ({ ...s, ...next }));
  };
  const columns = held.columnsBefore(at);
  const chips = (field: string, label: string, wraps = false) => (
    <ChipWords
      label={label}
      parts={(said[field] as Part[] | undefined) ?? []}
      columns={columns}
      onChange={(parts) => say({ [field]: parts })}
      wraps={wraps}
    />
  );
  return (
    <div style={{ display: 'grid', gap: 12 }}>
      {kind === 'make' && <MakeFields held={held} said={said} say={say} />}
      {kind === 'take' && (
        <Scroll label={wording.toThePDFsOf}>
          <Choose
            label={wording.job}
            value={said.job === undefined ? undefined : String(said.job as number)}
            onChange={(job) => say({ job: Number(job) })}
            choices={held.choices.jobs
              .filter((j) => j.pdfs)
              .map((j) => ({ id: String(j.id), name: j.name }))}
          />
        </Scroll>
      )}
      {kind === 'write' && (
        <>
          <Scroll label={wording.intoWhichColumn}>
            <Choose
              label={wording.column}
              value={said.column as string | undefined}
              onChange={(column) => say({ column })}
              choices={(
                held.choices.lists.find((l) => l.id === listOf(held.view.document.when))?.columns ??
                []
              )
                .filter((c) => !c.worked)
                .map((c) => ({ id: c.id, name: c.name }))}
            />
          </Scroll>
          {chips('parts', wording.value)}
        </>
      )}
      {kind === 'link' && chips('to', wording.whereTheLinkLeads)}
      {kind === 'picture' && (
        <Scroll label={wording.thePictureOfWhich}>
          <Choose
            label={wording.stamp}
            value={
              said.stamp === undefined ? undefined : `${said.job as number} ${said.stamp as string}`
            }
            onChange={(both) => {
              const [job, stamp] = both.split(' ');
              say({ job: Number(job), stamp });
            }}
            choices={held.choices.jobs
              .filter((j) => j.list === listOf(held.view.document.when))
              .flatMap((j) =>
                j.stamps.map((s) => ({ id: `${j.id} ${s.id}`, name: s.name, about: j.name })),
              )}
          />
        </Scroll>
      )}
      {kind === 'mail' && (
        <>
          {chips('to', wording.emailAddress)}
          {chips('subject', wording.subject)}
          {chips('text', 'Text', true)}
        </>
      )}
      {kind === 'out' && (
        <Words
          label={wording.folderInTheOut}
          value={(said.folder as string | undefined) ?? ''}
          onChange={(folder) => say({ folder })}
          autoFocus
        />
      )}
      {kind === 'print' && (
        <Scroll label={wording.onWhichPrinter}>
          {held.choices.printers.length === 0 ? (
            <Small>{wording.thereIsNoPrinter}</Small>
          ) : (
            <Choose
              label={wording.printer}
              value={said.printer === undefined ? undefined : String(said.printer as number)}
              onChange={(printer) => say({ printer: Number(printer) })}
              choices={held.choices.printers.map((p) => ({ id: String(p.id), name: p.name }))}
            />
          )}
        </Scroll>
      )}
      {kind === 'call' && <CallFields held={held} said={said} say={say} chips={chips} at={at} />}
      {kind === 'each' && <EachFields held={held} said={said} say={say} chips={chips} />}
      {told && <Small role="alert">{told}</Small>}
      <div>
        <MainButton
          onPress={() =>
            parsed.success
              ? onUse(parsed.data)
              : setTold(
                  parsed.error.issues.find(
                    (i) => i.code === 'custom' || i.code === 'invalid_format',
                  )?.message ?? wording.somethingIsNotChosen,
                )
          }
        >
          {wording.apply}
        </MainButton>
      </div>
    </div>
  );
}

/** The initial choice. */
function usual(kind: StepKind, { choices, view }: Held): Record<string, unknown> {
  const list = listOf(view.document.when);
  // never a job of another list: nobody would notice before it is sent
  const job = choices.jobs.find((j) => list === null || j.list === list);
  if (kind === 'make')
    return {
      job: job?.id,
      output: job?.outputs[0]?.kind,
      which: list === null ? 'ready' : 'record',
    };
  if (kind === 'print') return { printer: choices.printers[0]?.id };
  return {};
}

interface Fields {
  held: Held;
  said: Record<string, unknown>;
  say: (next: Record<string, unknown>) => void;
}

function MakeFields({ held, said, say }: Fields) {
  const list = listOf(held.view.document.when);
  const job = held.choices.jobs.find((j) => j.id === said.job);
  const own = held.choices.jobs.filter((j) => j.list === list);
  const jobs = said.which === 'record' ? own : held.choices.jobs;
  const ofJob = (next: (typeof jobs)[number] | undefined) => ({
    job: next?.id,
    output: next?.outputs[0]?.kind,
  });
  return (
    <>
      <Pick
        label={wording.forWhichRecords}
        choices={[
          ...(list === null ? [] : [{ id: 'record' as const, name: wording.forItsRecord }]),
          { id: 'ready' as const, name: wording.forAllThatAre },
          { id: 'new' as const, name: wording.forWhatWasNot },
        ]}
        value={said.which as 'record'}
        onChange={(which) =>
          // for its record only a job of its list can make something
          say({ which, ...(which === 'record' && job?.list !== list ? ofJob(own[0]) : {}) })
        }
      />
      <Scroll label={wording.whichJob}>
        <Choose
          label={wording.job}
          value={said.job === undefined ? undefined : String(said.job as number)}
          onChange={(id) => say(ofJob(jobs.find((j) => String(j.id) === id)))}
          choices={jobs.map((j) => ({ id: String(j.id), name: j.name }))}
        />
      </Scroll>
      {job && (
        <Scroll label={wording.whichOutput}>
          <Choose
            label={wording.output}
            value={said.output as string | undefined}
            onChange={(output) => say({ output })}
            choices={job.outputs.map((o) => ({ id: o.kind, name: o.name }))}
          />
        </Scroll>
      )}
    </>
  );
}

function EachFields({
  held,
  said,
  say,
  chips,
}: Fields & { chips: (field: string, label: string) => React.ReactNode }) {
  const list = held.choices.lists.find((l) => l.id === said.list);
  return (
    <>
      <Scroll label={wording.rowsOfWhichList}>
        <Choose
          label={wording.list}
          value={said.list === undefined ? undefined : String(said.list as number)}
          onChange={(id) => say({ list: Number(id), column: undefined })}
          choices={held.choices.lists.map((l) => ({ id: String(l.id), name: l.name }))}
        />
      </Scroll>
      {list && (
        <Scroll label={wording.whichColumnSaysWhose}>
          <Choose
            label={wording.column}
            value={said.column as string | undefined}
            onChange={(column) => say({ column })}
            choices={list.columns.map((c) => ({ id: c.id, name: c.name }))}
          />
        </Scroll>
      )}
      {chips('is', wording.andEquals)}
    </>
  );
}

interface Header {
  name: string;
  value: string;
  secret: boolean;
}
interface Field {
  name: string;
  parts: Part[];
}

function CallFields({
  held,
  said,
  say,
  chips,
  at,
}: Fields & { chips: (field: string, label: string) => React.ReactNode; at: number }) {
  const headers = (said.headers as Header[] | undefined) ?? [];
  const fields = (said.fields as Field[] | undefined) ?? [];
  const change = <T,>(all: readonly T[], i: number, next: Partial<T>) =>
    all.map((one, k) => (k === i ? { ...one, ...next } : one));
  return (
    <>
      <Pick
        label={wording.method}
        choices={(['POST', 'PUT', 'PATCH', 'DELETE'] as const).map((id) => ({ id, name: id }))}
        value={(said.method as 'POST' | undefined) ?? 'POST'}
        onChange={(method) => say({ method })}
      />
      {chips('to', wording.webAddress)}
      {fields.map((field, i) => (
        <div
          key={i}
          style={{
            display: 'grid',
            gap: 6,
            borderLeft: `2px solid ${colour.rule}`,
            paddingLeft: 10,
          }}
        >
          <Words
            label={wording.nameOfTheValue}
            value={field.name}
            onChange={(name) => say({ fields: change(fields, i, { name }) })}
          />
          <ChipWords
            label={wording.text}
            parts={field.parts}
            columns={held.columnsBefore(at)}
            onChange={(parts) => say({ fields: change(fields, i, { parts }) })}
          />
          <PlainButton
            style={{ justifySelf: 'start', padding: '2px 0' }}
            onPress={() => say({ fields: fields.filter((_, k) => k !== i) })}
          >
            {wording.removeThisValue}
          </PlainButton>
        </div>
      ))}
      {headers.map((header, i) => (
        <div
          key={i}
          style={{
            display: 'grid',
            gap: 6,
            borderLeft: `2px solid ${colour.rule}`,
            paddingLeft: 10,
          }}
        >
          <Words
            label={wording.header}
            value={header.name}
            onChange={(name) => say({ headers: change(headers, i, { name }) })}
          />
          <Words
            label={header.secret ? wording.valueLeaveBlankTo : wording.value}
            value={header.value}
            type={header.secret ? 'password' : undefined}
            onChange={(value) => say({ headers: change(headers, i, { value }) })}
          />
          <Check
            on={header.secret}
            onChange={(secret) => say({ headers: change(headers, i, { secret }) })}
          >
            {wording.secretNeverShownAgain}
          </Check>
          <PlainButton
            style={{ justifySelf: 'start', padding: '2px 0' }}
            onPress={() => say({ headers: headers.filter((_, k) => k !== i) })}
          >
            {wording.removeThisHeader}
          </PlainButton>
        </div>
      ))}
      <div style={{ display: 'flex', gap: 8 }}>
        <QuietButton onPress={() => say({ fields: [...fields, { name: '', parts: [] }] })}>
          {wording.addAValue}
        </QuietButton>
        <QuietButton
          onPress={() => say({ headers: [...headers, { name: '', value: '', secret: true }] })}
        >
          {wording.addAHeader}
        </QuietButton>
      </div>
    </>
  );
}
