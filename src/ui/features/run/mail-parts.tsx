'use client';
import { counted } from '../../../core/base/words';
import { useQuery } from '@tanstack/react-query';
import { Link } from '../../kit/link';
import { useRef, useState } from 'react';
import type { SheetProof } from '../../../contract';
import { addressTrouble } from '../../../core/mail/address';
import { mailOf, type Mail } from '../../../core/mail/mail';
import { onGround } from '../../../core/grounds';
import { stampsInMail } from '../../../core/run/outputs/mail-codes';
import { groundOf } from '../../../core/piece/model';
import type { Part as ContentPart } from '../../../core/records/parts';
import { attachableOn, outputOf, type Output } from '../../../core/run/outputs';
import {
  ChipLine,
  PutInColumn,
  withColumn,
  withGaps,
  withoutGaps,
  type Caret,
} from '../../editors/chips';
import { ask } from '../../kit/api';
import { PartsWords } from '../../editors/stamp/purpose-part';
import { ContentEditor } from '../../editors/stamp/content-editor';
import { Check, ChoicePart, MainButton, Part, PlainButton, Small, Words } from '../../kit/controls';
import { Mark } from '../../kit/mark';
import type { Setting } from '../../kit/usual';
import { useJob } from '../../shell/ledger/context';
import { mailParts as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/** The mail of the job, and how it is changed. */
export function useMail(): [Mail, (next: Partial<Mail>) => void] {
  const { job, save } = useJob();
  const { columns } = job.list;
  return [
    mailOf(job.document.mail, columns),
    (next) => save((d) => ({ ...d, mail: { ...mailOf(d.mail, columns), ...next } })),
  ];
}

export const useMailServer = (asked: boolean) =>
  useQuery({
    queryKey: ['mail-server'],
    queryFn: () => ask('viewMailServer'),
    enabled: asked,
  });

const placeWords = {
  below: wording.theCodeBelowThe,
  above: wording.theCodeAboveThe,
  none: wording.noCodeInThe,
} as const;

/** To whom an email goes, its subject and its text: the first parts of the run's sentence. */
export function MailParts() {
  const { job } = useJob();
  const [mail, set] = useMail();
  const columns = job.list.columns.filter((c) => !c.hidden);
  const open = columns.filter((c) => !c.secret);
  const isPage = groundOf(job.document.piece) === 'html';
  return withParts(
    wording.withTheSubjectAnd,
    ' to ',
    <ChoicePart
      label={wording.columnWithTheEmail}
      value={mail.to}
      onChange={(to) => set({ to })}
      choices={open.map((c) => ({ id: c.id, name: c.name }))}
    >
      {open.find((c) => c.id === mail.to)?.name ?? wording.aColumnYouChoose}
    </ChoicePart>,
    <Part
      label={wording.subjectOfTheEmail}
      editor={(close) => (
        <ContentEditor
          parts={mail.subject}
          columns={open}
          onChange={(subject) => {
            set({ subject });
            close();
          }}
        />
      )}
    >
      <PartsWords parts={mail.subject} empty={wording.empty} />
    </Part>,
    isPage && (
      <ChoicePart
        label={wording.textOfTheEmail}
        value={mail.says ?? 'page'}
        onChange={(id) => set({ says: id === 'words' ? 'words' : undefined })}
        choices={[
          {
            id: 'page',
            name: wording.thePageItself,
            about: wording.withItsCodesAnd,
          },
          { id: 'words', name: wording.aTextYouWrite, about: wording.thePageCanBe },
        ]}
      />
    ),
    (!isPage || mail.says === 'words') && <WordsParts besidePage={isPage} />,
  );
}

/** What else can be set for the emails of a run. */
export function useMailSettings(output: Output, setOutput: (output: Output) => void): Setting[] {
  const { job } = useJob();
  const [mail, set] = useMail();
  const attachable = attachableOn(groundOf(job.document.piece));
  const saysWords = groundOf(job.document.piece) !== 'html' || mail.says === 'words';
  const attached = mail.attach
    ? attachable.some((o) => o.id === mail.attach)
      ? filled(wording.attached, outputOf(mail.attach).attached)
      : wording.anAttachmentThatThis
    : wording.nothingAttached;
  const already = {
    once: wording.onlyToPeopleWho,
    again: wording.alsoToPeopleWho,
  } as const;
  const again = output.again ? 'again' : 'once';
  const settings: Setting[] = [
    {
      id: 'attached',
      usual: !mail.attach,
      words: attached,
      part: (
        <ChoicePart
          label={wording.attachments}
          value={mail.attach ?? 'none'}
          onChange={(id) => set({ attach: id === 'none' ? undefined : id })}
          choices={[
            { id: 'none', name: wording.nothingAttached },
            ...attachable.map((o) => ({ id: o.id, name: filled(wording.attached, o.attached) })),
          ]}
        >
          {attached}
        </ChoicePart>
      ),
    },
    {
      id: 'reply-to',
      usual: !mail.replyTo,
      words: filled(wording.repliesTo, mail.replyTo ?? wording.theSender),
      part: withParts(
        wording.repliesTo,
        <Part
          label={wording.repliesGoTo}
          editor={(close) => (
            <ReplyTo
              value={mail.replyTo ?? ''}
              onChange={(replyTo) => {
                set({ replyTo: replyTo || undefined });
                close();
              }}
            />
          )}
        >
          {mail.replyTo ?? wording.theSender}
        </Part>,
      ),
    },
    {
      id: 'again',
      usual: !output.again,
      words: already[again],
      part: (
        <ChoicePart
          label={wording.peopleWhoAlreadyHad}
          value={again}
          onChange={(id) => setOutput({ ...output, again: id === 'again' || undefined })}
          choices={(['once', 'again'] as const).map((id) => ({ id, name: already[id] }))}
        />
      ),
    },
  ];
  if (saysWords)
    settings.unshift({
      id: 'codes',
      usual: mail.codes === 'below' && !mail.stamps,
      words: placeWords[mail.codes],
      part: withParts(
        wording.with,
        <ChoicePart
          label={wording.whereTheCodeIs}
          value={mail.codes}
          onChange={(codes) => set({ codes })}
          choices={(Object.keys(placeWords) as Mail['codes'][]).map((id) => ({
            id,
            name: placeWords[id],
          }))}
        />,
        mail.codes !== 'none' && job.document.stamps.length > 1 && <StampsPart />,
      ),
    });
  return settings;
}

/** The text of an email. */
function WordsParts({ besidePage }: { besidePage: boolean }) {
  const [mail, set] = useMail();
  return (
    <>
      {besidePage && ', '}
      <Part
        label={wording.textOfTheEmail}
        editor={(close) => (
          <BodyEditor
            body={mail.body}
            onChange={(body) => {
              set({ body });
              close();
            }}
          />
        )}
      >
        {mail.body.length === 0 ? (
          '(empty)'
        ) : (
          <>
            <PartsWords parts={mail.body[0]!} empty="" />
            {mail.body.length > 1 && ' …'}
          </>
        )}
      </Part>
    </>
  );
}

/** Of several stamps, those whose codes are in the email. */
function StampsPart() {
  const { job } = useJob();
  const [mail, set] = useMail();
  const { stamps, piece } = job.document;
  const chosen = stampsInMail(mail, stamps, onGround(piece).stampsOn(piece));
  return (
    <>
      {' '}
      (
      <Part
        label={wording.codesInTheEmail}
        editor={stamps.map((stamp) => (
          <Check
            key={stamp.id}
            on={chosen.includes(stamp)}
            onChange={(on) => {
              const next = stamps.filter((s) => (s === stamp ? on : chosen.includes(s)));
              if (next.length > 0) set({ stamps: next.map((s) => s.id) });
            }}
          >
            {stamp.name}
          </Check>
        ))}
      >
        {chosen.map((s) => s.name).join(', ')}
      </Part>
      )
    </>
  );
}

/**
 * What to know before anything is sent: the server, and email addresses that several records share.
 */
export function MailNotes({ proof }: { proof: SheetProof | undefined }) {
  const server = useMailServer(true);
  const { records = 0, first = [] } = proof?.shared ?? {};
  return (
    <>
      {records > 0 &&
        withParts(
          wording.eachGetsASeparate,
          <Mark name="look" />,
          <Part
            label={wording.sharedEmailAddresses}
            editor={
              <ul style={{ margin: 0, paddingLeft: 16, maxHeight: 300, overflow: 'auto' }}>
                {first.map((one) => (
                  <li key={one.address}>
                    <b>{one.address}</b>: {one.titles.join(', ')}
                  </li>
                ))}
              </ul>
            }
          >
            {withParts(
              wording.anEmailAddress,
              counted(records, wording.recordShares, wording.recordsShare),
            )}
          </Part>,
        )}
      {server.data &&
        !server.data.server &&
        withParts(
          wording.chooseAMailServer,
          <Mark name="look" />,
          <Link href="/settings">{wording.settings}</Link>,
        )}
    </>
  );
}

function ReplyTo({ value, onChange }: { value: string; onChange: (value: string) => void }) {
  const [text, setText] = useState(value);
  const trouble = text.trim() === '' ? undefined : addressTrouble(text);
  const use = () => trouble === undefined && onChange(text.trim());
  return (
    <>
      <Words label={wording.replyAddress} value={text} onChange={setText} autoFocus onEnter={use} />
      <Small>{trouble ?? wording.leaveThisBlankTo}</Small>
      <div>
        <MainButton isDisabled={trouble !== undefined} onPress={use}>
          {wording.apply}
        </MainButton>
      </div>
    </>
  );
}

/** Paragraphs of words and columns; Enter begins the next. */
function BodyEditor({
  body,
  onChange,
}: {
  body: readonly (readonly ContentPart[])[];
  onChange: (body: ContentPart[][]) => void;
}) {
  const { job } = useJob();
  const columns = job.list.columns.filter((c) => !c.hidden);
  const [lines, setLines] = useState(() =>
    (body.length > 0 ? body : [[]]).map((parts, id) => ({ id, held: withGaps(parts) })),
  );
  const [line, setLine] = useState(lines[0]!.id);
  const caret = useRef<Caret>({ part: 0, at: Number.MAX_SAFE_INTEGER });
  const list = useRef<HTMLDivElement>(null);
  const next = useRef(lines.length);
  const focus = (index: number) =>
    requestAnimationFrame(() =>
      list.current
        ?.querySelectorAll<HTMLElement>('[role=group]')
        [Math.max(0, index)]?.querySelector<HTMLTextAreaElement>('textarea:last-of-type')
        ?.focus(),
    );
  const put = (id: number, held: ContentPart[]) =>
    setLines((now) => now.map((l) => (l.id === id ? { id, held } : l)));
  const add = (after: number) => {
    const id = next.current++;
    setLines((now) => [
      ...now.slice(0, after + 1),
      { id, held: withGaps([]) },
      ...now.slice(after + 1),
    ]);
    focus(after + 1);
  };
  return (
    <>
      <div
        ref={list}
        style={{ display: 'grid', gap: 6, maxHeight: 250, overflow: 'auto', padding: 2 }}
      >
        {lines.map(({ id, held }, i) => (
          <ChipLine
            key={id}
            label={filled(wording.paragraph, i + 1)}
            held={held}
            columns={columns}
            caret={caret}
            wraps
            onHeld={(now) => put(id, now)}
            onFocus={() => setLine(id)}
            onEnter={() => add(i)}
            onEmptyBack={() => {
              if (lines.length === 1) return;
              setLines((now) => now.filter((l) => l.id !== id));
              focus(i - 1);
            }}
          />
        ))}
      </div>
      <PlainButton
        onPress={() => add(lines.length - 1)}
        style={{ justifySelf: 'start', padding: 0, textDecoration: 'underline' }}
      >
        {wording.anotherParagraph}
      </PlainButton>
      <PutInColumn
        columns={columns}
        onPut={(column) => {
          const here = lines.find((l) => l.id === line) ?? lines[0];
          const made = withColumn(here!.held, caret.current, column);
          put(here!.id, made.held);
          caret.current = made.caret;
        }}
      />
      <Small>{wording.aParagraphThatWould}</Small>
      <div>
        <MainButton
          onPress={() =>
            onChange(lines.map((l) => withoutGaps(l.held)).filter((l) => l.length > 0))
          }
        >
          {wording.apply}
        </MainButton>
      </div>
    </>
  );
}
