'use client';

import { useQuery } from '@tanstack/react-query';
import { Fragment, useState } from 'react';
import type { CheckpointView, TakenList } from '../../../contract';
import type { Hold, Rule, Sessions, Take } from '../../../core/checkpoint/rule';
import { isSecret } from '../../../core/records/columns';
import { ask } from '../../kit/api';
import {
  Check,
  ChoicePart,
  Choose,
  ErrorLine,
  MainButton,
  Part,
  PlainButton,
  QuietButton,
  Sentence,
  Small,
  Words,
} from '../../kit/controls';
import { useMay } from '../../kit/me';
import { UsualSettings, type Setting } from '../../kit/usual';
import { Pick } from '../../kit/pick';
import { useSelfCheckIn } from './by-oneself-part';
import { atShort, holdWords, named, oftenWords } from './words';
import { ruleSentence as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/** The rule of a checkpoint, as a sentence whose parts are the controls. */
export function RuleSentence({
  view,
  session,
  sessions,
  change,
}: {
  view: CheckpointView;
  /** Which it is now, and which there are. */
  session: string | null;
  sessions: readonly string[];
  change: (change: { rule?: Rule; together?: number[] }) => void;
}) {
  const { rule, lists, others } = view;
  const say = (next: Partial<Rule>) => change({ rule: { ...rule, ...next } });
  const sayTake = (at: number, next: Take | undefined) =>
    say({
      takes: next
        ? rule.takes.map((take, i) => (i === at ? next : take))
        : rule.takes.filter((_, i) => i !== at),
    });
  const together = others.filter((o) => o.together);
  const may = useMay();
  const last = rule.takes.length - 1;
  const selfCheckIn = useSelfCheckIn(view);
  const counted =
    together.length === 0
      ? wording.thisCheckpointOnly
      : filled(wording.togetherWith, named(together.map((o) => o.name)));
  const sessionWords =
    rule.session.kind === 'none'
      ? wording.noSessions
      : sessionsWords(rule.session, lists[0], sessions);
  const settings: Setting[] = [
    {
      id: 'time',
      usual: rule.opens === null && rule.ends === null,
      words: timeWords(rule),
      part: (
        <Part
          label={wording.fromWhenUntilWhen}
          editor={(close) => <TimeEditor rule={rule} onUse={(next) => (say(next), close())} />}
        >
          {timeWords(rule)}
        </Part>
      ),
    },
    ...rule.takes.flatMap((take, at) => {
      const list = lists.find((l) => l.id === take.list);
      if (!list) return [];
      const shown = [wording.theTitle, ...take.shows.map((id) => nameOf(list, id))];
      const words = named(shown);
      const of = rule.takes.length > 1 ? filled(wording.for, list.name) : '';
      return [
        {
          id: `shows-${take.list}`,
          usual: true,
          words: filled(wording.shows, words, of),
          part: withParts(
            wording.shows,
            <Part
              label={wording.whatIsShown}
              editor={(close) => (
                <ShownEditor
                  take={take}
                  list={list}
                  onUse={(shows) => (sayTake(at, { ...take, shows }), close())}
                />
              )}
            >
              {words}
            </Part>,
            of,
          ),
        },
      ];
    }),
    {
      id: 'sessions',
      usual: rule.session.kind === 'none',
      words: sessionWords,
      part: (
        <>
          {rule.session.kind !== 'none' && wording.withSessions}
          <Part
            label={wording.sessions}
            editor={(close) => (
              <SessionsEditor view={view} onUse={(next) => (say({ session: next }), close())} />
            )}
          >
            {sessionWords}
          </Part>
        </>
      ),
    },
    {
      id: 'together',
      usual: together.length === 0,
      words: filled(wording.counts, counted),
      part: withParts(
        wording.counts,
        <Part
          label={wording.countTogetherWithOther}
          editor={(close) => (
            <TogetherEditor
              view={view}
              onUse={(ids) => {
                change({ together: ids });
                close();
              }}
            />
          )}
        >
          {counted}
        </Part>,
      ),
    },
    selfCheckIn,
  ];
  return (
    <Sentence>
      {rule.takes.map((take, at) => (
        <Fragment key={take.list}>
          <TakeWords
            last={at === last}
            first={at === 0}
            take={take}
            list={lists.find((l) => l.id === take.list)}
            rule={rule}
            say={(next) => sayTake(at, next)}
            often={
              at === 0 ? (
                <ChoicePart
                  label={wording.howOftenACode}
                  value={rule.often}
                  onChange={(often) => say({ often })}
                  choices={[
                    { id: 'any', name: oftenWords.any, about: wording.eachTimeIsA },
                    { id: 'once', name: oftenWords.once },
                    {
                      id: 'each-session',
                      name: oftenWords['each-session'],
                      about:
                        rule.session.kind === 'none'
                          ? wording.firstSetUpThe
                          : wording.aPersonWhoCame,
                    },
                  ]}
                />
              ) : undefined
            }
          />
        </Fragment>
      ))}
      <UsualSettings
        parts={settings}
        end={
          <>
            .{' '}
            <AddCondition
              take={rule.takes[last]!}
              list={lists.find((l) => l.id === rule.takes[last]!.list)}
              rule={rule}
              say={(next) => sayTake(last, next)}
            />{' '}
            {may && rule.takes.length < 6 && (
              <Part
                acts
                plain
                label={wording.addCodesOfAnother}
                editor={(close) => (
                  <AnotherList
                    taken={rule.takes.map((take) => take.list)}
                    onTake={(list) => {
                      say({
                        takes: [
                          ...rule.takes,
                          { list, stamps: [], genuine: false, holds: [], shows: [] },
                        ],
                      });
                      close();
                    }}
                  />
                )}
              >
                {wording.anotherList}
              </Part>
            )}{' '}
            {rule.session.kind !== 'none' &&
              withParts(
                wording.sessionNow,
                rule.session.kind === 'time' ? (
                  <b>{session ?? 'none'}</b>
                ) : (
                  <ChoicePart
                    label={wording.currentSession}
                    value={session ?? undefined}
                    onChange={(now) =>
                      rule.session.kind === 'hand' || rule.session.kind === 'column'
                        ? say({ session: { ...rule.session, now } })
                        : undefined
                    }
                    choices={sessions.map((name) => ({ id: name, name }))}
                  />
                ),
              )}
          </>
        }
      />
    </Sentence>
  );
}

const nameOf = (list: TakenList, id: string): string =>
  list.columns.find((c) => c.id === id)?.name ?? wording.aDeletedColumn;

function TakeWords({
  first,
  last,
  take,
  list,
  rule,
  often,
  say,
}: {
  first: boolean;
  last: boolean;
  take: Take;
  list: TakenList | undefined;
  rule: Rule;
  often: React.ReactNode;
  say: (next: Take | undefined) => void;
}) {
  if (!list)
    return withParts(
      wording.oneOfItsLists,
      rule.takes.length > 1 && (
        <PlainButton onPress={() => say(undefined)}>{wording.remove}</PlainButton>
      ),
    );
  const proving = list.stamps.some((s) => s.proves);
  return withParts(
    wording.mayComeIn,
    first ? wording.aCodeOf : wording.aCodeOf2,
    <Part
      label={wording.whichCodes}
      editor={(close) => (
        <CodesEditor
          take={take}
          list={list}
          removable={rule.takes.length > 1}
          onUse={(next) => (say(next), close())}
        />
      )}
    >
      {list.name}
      {take.stamps.length > 0 &&
        `, ${named(list.stamps.filter((s) => take.stamps.includes(s.id)).map((s) => s.name))}`}
    </Part>,
    often ?? (rule.takes.length > 1 ? 'likewise' : ''),
    (proving || take.genuine || take.holds.length > 0) && wording.if,
    (proving || take.genuine) && (
      <ChoicePart
        label={wording.whetherTheCodeMust}
        value={take.genuine ? 'genuine' : 'any'}
        onChange={(id) => say({ ...take, genuine: id === 'genuine' })}
        choices={[
          {
            id: 'genuine',
            name: wording.itsCodeIsGenuine,
            about: wording.theCodeMustCarry,
          },
          {
            id: 'any',
            name: wording.itHasACode,
            about: wording.aCodeWithA,
          },
        ]}
      />
    ),
    take.holds.map((hold, i) => (
      <Fragment key={i}>
        {i > 0 || proving || take.genuine ? ' and ' : ''}
        <Part
          label={wording.aCondition}
          editor={(close) => (
            <HoldEditor
              hold={hold}
              list={list}
              session={rule.session.kind !== 'none'}
              onUse={(next) => {
                say({
                  ...take,
                  holds: next
                    ? take.holds.map((h, n) => (n === i ? next : h))
                    : take.holds.filter((_, n) => n !== i),
                });
                close();
              }}
            />
          )}
        >
          {holdWords(hold, nameOf(list, hold.column))}
        </Part>
      </Fragment>
    )),
    !last && (
      <>
        . <AddCondition take={take} list={list} rule={rule} say={say} />
      </>
    ),
  );
}

function AddCondition({
  take,
  list,
  rule,
  say,
}: {
  take: Take;
  list: TakenList | undefined;
  rule: Rule;
  say: (next: Take) => void;
}) {
  if (!list || take.holds.length >= 6) return null;
  return (
    <Part
      acts
      plain
      label={wording.addAnotherCondition}
      editor={(close) => (
        <HoldEditor
          list={list}
          session={rule.session.kind !== 'none'}
          onUse={(next) => {
            if (next) say({ ...take, holds: [...take.holds, next] });
            close();
          }}
        />
      )}
    >
      {wording.condition}
    </Part>
  );
}

const editor = { display: 'grid', gap: 10, width: 340 } as const;

function AnotherList({ taken, onTake }: { taken: number[]; onTake: (list: number) => void }) {
  const { data } = useQuery({ queryKey: ['lists'], queryFn: () => ask('listLists') });
  const more = (data?.lists ?? []).filter((list) => !taken.includes(list.id));
  return more.length === 0 ? (
    <Small>{wording.thereIsNoOther}</Small>
  ) : (
    <Choose
      label={wording.anotherList2}
      value={undefined}
      onChange={(id) => onTake(Number(id))}
      choices={more.map((list) => ({ id: String(list.id), name: list.name }))}
    />
  );
}

function CodesEditor({
  take,
  list,
  removable,
  onUse,
}: {
  take: Take;
  list: TakenList;
  removable: boolean;
  onUse: (next: Take | undefined) => void;
}) {
  const [stamps, setStamps] = useState<readonly string[]>(take.stamps);
  return (
    <div style={editor}>
      <Small>{withParts(wording.codesOfWhichStamps, list.name)}</Small>
      <Check on={stamps.length === 0} onChange={() => setStamps([])}>
        {wording.allStampsAlsoNew}
      </Check>
      {list.stamps.map((stamp) => (
        <Check
          key={stamp.id}
          on={stamps.includes(stamp.id)}
          onChange={(on) =>
            setStamps(on ? [...stamps, stamp.id] : stamps.filter((id) => id !== stamp.id))
          }
        >
          {stamp.name}
          {stamp.proves && wording.withAProof}
        </Check>
      ))}
      <div style={{ display: 'flex', gap: 8 }}>
        <MainButton onPress={() => onUse({ ...take, stamps: [...stamps] })}>
          {wording.apply}
        </MainButton>
        {removable && (
          <PlainButton onPress={() => onUse(undefined)}>{wording.removeThisList}</PlainButton>
        )}
      </div>
    </div>
  );
}

function HoldEditor({
  hold,
  list,
  session,
  onUse,
}: {
  hold?: Hold;
  list: TakenList;
  session: boolean;
  onUse: (hold: Hold | undefined) => void;
}) {
  const [column, setColumn] = useState(hold?.column);
  const [is, setIs] = useState<Hold['is']>(hold?.is ?? 'is');
  const [value, setValue] = useState(hold?.value ?? '');
  if (column === undefined)
    return (
      <Choose
        label={wording.column}
        value={undefined}
        onChange={setColumn}
        choices={list.columns.map((c) => ({ id: c.id, name: c.name }))}
      />
    );
  const name = list.columns.find((c) => c.id === column)?.name ?? wording.aDeletedColumn;
  return (
    <div style={editor}>
      <Pick
        label={filled(wording.its, name)}
        value={is}
        onChange={setIs}
        choices={[
          { id: 'is', name: 'is' },
          { id: 'is-not', name: wording.isNot },
          { id: 'filled', name: wording.isNotBlank },
          { id: 'blank', name: wording.isBlank },
          ...(session ? [{ id: 'session' as const, name: wording.isTheSessions }] : []),
        ]}
      />
      {(is === 'is' || is === 'is-not') && (
        <Words label={wording.value} value={value} onChange={setValue} autoFocus />
      )}
      {is === 'session' && <Small>{wording.ifACellHolds}</Small>}
      <div style={{ display: 'flex', gap: 8, flexWrap: 'wrap' }}>
        <MainButton
          isDisabled={is === 'is' && value.trim() === ''}
          onPress={() => onUse({ column, is, value: is === 'is' || is === 'is-not' ? value : '' })}
        >
          {wording.apply}
        </MainButton>
        <PlainButton onPress={() => setColumn(undefined)}>{wording.anotherColumn}</PlainButton>
        {hold && <PlainButton onPress={() => onUse(undefined)}>{wording.remove}</PlainButton>}
      </div>
    </div>
  );
}

function ShownEditor({
  take,
  list,
  onUse,
}: {
  take: Take;
  list: TakenList;
  onUse: (shows: string[]) => void;
}) {
  const [shows, setShows] = useState<readonly string[]>(take.shows);
  return (
    <div style={editor}>
      <Small>{wording.theTitleIsAlways}</Small>
      <div style={{ display: 'grid', gap: 5, maxHeight: 280, overflow: 'auto' }}>
        {list.columns
          .filter((c) => !isSecret(c, list.columns))
          .map((c) => (
            <Check
              key={c.id}
              on={shows.includes(c.id)}
              onChange={(on) =>
                setShows(on ? [...shows, c.id].slice(0, 6) : shows.filter((id) => id !== c.id))
              }
            >
              {c.name}
            </Check>
          ))}
      </div>
      <div>
        <MainButton onPress={() => onUse([...shows])}>{wording.apply}</MainButton>
      </div>
    </div>
  );
}

function timeWords({ opens, ends }: Rule): string {
  if (opens === null && ends === null) return wording.atAnyTime;
  if (ends === null) return filled(wording.fromOn, atShort(opens!));
  return opens === null
    ? filled(wording.until, atShort(ends))
    : filled(wording.fromUntil, atShort(opens), atShort(ends));
}

const two = (n: number) => String(n).padStart(2, '0');
/** An instant in the format of a date and time field, in this computer's time zone. */
const forField = (iso: string | null): string => {
  if (iso === null) return '';
  const d = new Date(iso);
  // four digits also while a year is being typed, or the field empties itself
  const year = String(d.getFullYear()).padStart(4, '0');
  return `${year}-${two(d.getMonth() + 1)}-${two(d.getDate())}T${two(d.getHours())}:${two(d.getMinutes())}`;
};
/** Undefined for an impossible time, such as a year of six digits. */
const fromField = (text: string): string | null | undefined => {
  if (text === '') return null;
  const at = new Date(text);
  return Number.isNaN(at.getTime()) || at.getFullYear() > 9999 ? undefined : at.toISOString();
};

function Moment({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string | null;
  onChange: (iso: string | null) => void;
}) {
  return (
    <label style={{ display: 'grid', gap: 3, fontSize: 12.5 }}>
      {label}
      <input
        type="datetime-local"
        value={forField(value)}
        onChange={(event) => {
          const at = fromField(event.target.value);
          if (at !== undefined) onChange(at);
        }}
        style={{
          padding: '4px 6px',
          border: '1px solid #b4b6aa',
          background: '#fff',
          fontSize: 14,
        }}
      />
    </label>
  );
}

function TimeEditor({
  rule,
  onUse,
}: {
  rule: Rule;
  onUse: (next: Pick<Rule, 'opens' | 'ends'>) => void;
}) {
  const [opens, setOpens] = useState(rule.opens);
  const [ends, setEnds] = useState(rule.ends);
  const wrong = opens !== null && ends !== null && Date.parse(opens) >= Date.parse(ends);
  return (
    <div style={editor}>
      <Moment label={wording.fromLeaveBlankFor} value={opens} onChange={setOpens} />
      <Moment label={wording.untilLeaveBlankFor} value={ends} onChange={setEnds} />
      {wrong && <ErrorLine>{wording.itWouldEndBefore}</ErrorLine>}
      <div>
        <MainButton isDisabled={wrong} onPress={() => onUse({ opens, ends })}>
          {wording.apply}
        </MainButton>
      </div>
    </div>
  );
}

function sessionsWords(
  sessions: Sessions,
  list: TakenList | undefined,
  names: readonly string[],
): string {
  if (sessions.kind === 'column')
    return filled(
      wording.thoseIn,
      list?.columns.find((c) => c.id === sessions.column)?.name ?? wording.aDeletedColumn,
      sessions.all ? wording.openToAll : wording.eachForItsOwn,
    );
  return names.length === 1
    ? wording.oneByName
    : `${names.length} ${sessions.kind === 'time' ? wording.byTheClock : wording.byName}`;
}

/** The first name that occurs twice; sessions are told apart by name. */
const repeated = (names: readonly string[]): string | undefined =>
  names.find((name, i) => names.indexOf(name) < i);

function SessionsEditor({
  view,
  onUse,
}: {
  view: CheckpointView;
  onUse: (sessions: Sessions) => void;
}) {
  const now = view.rule.session;
  const [kind, setKind] = useState(now.kind);
  const [names, setNames] = useState(now.kind === 'hand' ? now.names.join('\n') : '');
  const [column, setColumn] = useState(now.kind === 'column' ? now.column : undefined);
  const [all, setAll] = useState(now.kind === 'column' && now.all === true);
  const [spans, setSpans] = useState(
    now.kind === 'time'
      ? now.spans.map((s) => ({
          ...s,
          from: s.from as string | null,
          until: s.until as string | null,
        }))
      : [{ name: '', from: null as string | null, until: null as string | null }],
  );
  const first = view.lists.find((l) => l.id === view.rule.takes[0]?.list);
  const values = useQuery({
    queryKey: ['checkpoint-values', first?.id, column],
    enabled: kind === 'column' && column !== undefined && first !== undefined,
    queryFn: () => ask('columnSessions', { params: { id: view.id }, query: { column: column! } }),
  });
  const list = names
    .split('\n')
    .map((name) => name.trim())
    .filter(Boolean);
  const made: Sessions | undefined =
    kind === 'none'
      ? { kind: 'none' }
      : kind === 'hand'
        ? list.length > 0
          ? {
              kind,
              names: list,
              now: now.kind === 'hand' && list.includes(now.now) ? now.now : list[0]!,
            }
          : undefined
        : kind === 'column'
          ? column !== undefined && values.data?.values[0] !== undefined
            ? { kind, column, now: values.data.values[0], ...(all ? { all } : {}) }
            : undefined
          : spans.every((s) => s.name.trim() && s.from && s.until)
            ? {
                kind,
                spans: spans.map((s) => ({ name: s.name.trim(), from: s.from!, until: s.until! })),
              }
            : undefined;
  const backwards =
    made?.kind === 'time' && made.spans.find((s) => Date.parse(s.from) >= Date.parse(s.until));
  const twice = made?.kind === 'hand' ? repeated(made.names) : undefined;
  return (
    <div style={{ ...editor, width: 430 }}>
      <Pick
        label={wording.sessions}
        value={kind}
        onChange={setKind}
        choices={[
          { id: 'none', name: 'none' },
          { id: 'hand', name: wording.switchedByHand },
          { id: 'column', name: wording.takenFromAColumn },
          { id: 'time', name: wording.switchedByTheClock },
        ]}
      />
      {kind === 'hand' && (
        <label style={{ display: 'grid', gap: 3, fontSize: 12.5 }}>
          {withParts(
            wording.sessionNamesOnePer,
            <textarea
              rows={5}
              value={names}
              onChange={(event) => setNames(event.target.value)}
              style={{ padding: 6, border: '1px solid #b4b6aa', fontSize: 14 }}
            />,
          )}
        </label>
      )}
      {kind === 'column' && first && (
        <>
          <Check on={all} onChange={setAll}>
            {wording.recordsOfOtherSessions}
          </Check>
          <div style={{ maxHeight: 200, overflow: 'auto', padding: '4px 6px' }}>
            <Choose
              label={wording.column}
              value={column}
              onChange={setColumn}
              choices={first.columns
                .filter((c) => !isSecret(c, first.columns))
                .map((c) => ({ id: c.id, name: c.name }))}
            />
          </div>
          {values.data && (
            <Small>
              {values.data.values.length === 0
                ? wording.thisColumnIsEmpty
                : `${named(values.data.values.slice(0, 6))}${values.data.values.length > 6 ? ' …' : ''}`}
            </Small>
          )}
        </>
      )}
      {kind === 'time' && (
        <>
          {spans.map((span, i) => {
            const set = (next: Partial<typeof span>) =>
              setSpans(spans.map((s, n) => (n === i ? { ...s, ...next } : s)));
            return (
              <div key={i} style={{ display: 'grid', gap: 5 }}>
                <Words
                  label={wording.session}
                  value={span.name}
                  onChange={(name) => set({ name })}
                />
                <div style={{ display: 'flex', gap: 10, alignItems: 'end' }}>
                  <Moment
                    label={wording.from}
                    value={span.from}
                    onChange={(from) => set({ from })}
                  />
                  <Moment
                    label={wording.until2}
                    value={span.until}
                    onChange={(until) => set({ until })}
                  />
                  {spans.length > 1 && (
                    <PlainButton onPress={() => setSpans(spans.filter((_, n) => n !== i))}>
                      {wording.remove}
                    </PlainButton>
                  )}
                </div>
              </div>
            );
          })}
          <div>
            <QuietButton
              onPress={() =>
                setSpans([...spans, { name: '', from: spans.at(-1)?.until ?? null, until: null }])
              }
            >
              {wording.anotherSession}
            </QuietButton>
          </div>
        </>
      )}
      {backwards && <ErrorLine>{withParts(wording.wouldEndBeforeIt, backwards.name)}</ErrorLine>}
      {twice !== undefined && <ErrorLine>{withParts(wording.isThereTwiceGive, twice)}</ErrorLine>}
      <div>
        <MainButton
          isDisabled={made === undefined || Boolean(backwards) || twice !== undefined}
          onPress={() => made && onUse(made)}
        >
          {wording.apply}
        </MainButton>
      </div>
    </div>
  );
}

function TogetherEditor({ view, onUse }: { view: CheckpointView; onUse: (ids: number[]) => void }) {
  const [ids, setIds] = useState(view.others.filter((o) => o.together).map((o) => o.id));
  return (
    <div style={editor}>
      <Small>{wording.forTwoGatesOf}</Small>
      {view.others.length === 0 && <p>{wording.thereIsNoOtherCheckpoint}</p>}
      {view.others.map((other) => (
        <Check
          key={other.id}
          on={ids.includes(other.id)}
          onChange={(on) => setIds(on ? [...ids, other.id] : ids.filter((id) => id !== other.id))}
        >
          {other.name}
        </Check>
      ))}
      <div>
        <MainButton onPress={() => onUse(ids)}>{wording.apply}</MainButton>
      </div>
    </div>
  );
}
