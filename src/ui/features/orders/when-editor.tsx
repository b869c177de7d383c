'use client';

import { useState } from 'react';
import {
  everyMinutes,
  everyWords,
  scheduleSchema,
  type Schedule,
} from '../../../core/orders/schedule';
import { listOf, type When, type WhenKind } from '../../../core/orders/order';
import { Check, Choose, MainButton, Small, Warning, Words } from '../../kit/controls';
import { Pick } from '../../kit/pick';
import { Scroll } from '../../kit/scroll';
import type { Held } from './use-order';
import { whenEditor as wording } from './words';

const kinds: readonly { id: WhenKind; name: string; about: string }[] = [
  { id: 'record', name: wording.aRecordIsAdded, about: wording.inOneOfThe },
  {
    id: 'reaches',
    name: wording.aColumnGetsA,
    about: wording.forExampleItsState,
  },
  {
    id: 'document',
    name: wording.aFileArrivesIn,
    about: wording.orInOneOf,
  },
  {
    id: 'call',
    name: wording.aProgramCallsThis,
    about: wording.atAWebAddress,
  },
  { id: 'scan', name: wording.aCodeIsScanned, about: wording.atACheckpointOr },
  {
    id: 'schedule',
    name: wording.aScheduledTime,
    about: wording.everyDayOnSome,
  },
  { id: 'hand', name: wording.someoneStartsItBy, about: wording.forTheRecordsTicked },
];

/** What an order starts from, first by its kind. */
export function WhenEditor({ held, onUse }: { held: Held; onUse: (when: When) => void }) {
  const { when } = held.view.document;
  const [kind, setKind] = useState<WhenKind>();
  const shown = kind ?? when.kind;
  if (kind === undefined)
    return (
      <div style={{ display: 'grid', gap: 12, width: 420 }}>
        <Form key={shown} held={held} kind={shown} onUse={onUse} />
        <details>
          <summary style={{ cursor: 'pointer' }}>{wording.startFromSomethingElse}</summary>
          <div style={{ marginTop: 10 }}>
            <Choose
              label={wording.whatItStartsFrom}
              value={when.kind}
              onChange={setKind}
              choices={kinds}
            />
          </div>
        </details>
      </div>
    );
  return (
    <div style={{ width: 420 }}>
      <Form key={kind} held={held} kind={kind} onUse={onUse} />
    </div>
  );
}

const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;

function Form({
  held: { view, choices },
  kind,
  onUse,
}: {
  held: Held;
  kind: WhenKind;
  onUse: (when: When) => void;
}) {
  const is = view.document.when;
  const own = <K extends WhenKind>(of: K) =>
    is.kind === of ? (is as Extract<When, { kind: K }>) : undefined;
  // “none” is a choice too, if it was made
  const [list, setList] = useState<number | null>(
    is.kind === kind ? listOf(is) : (listOf(is) ?? choices.lists[0]?.id ?? null),
  );
  const [on, setOn] = useState(own('record')?.on ?? ['came' as const]);
  const [column, setColumn] = useState(own('reaches')?.column);
  const [value, setValue] = useState(own('reaches')?.value ?? '');
  const [folder, setFolder] = useState(own('document')?.folder ?? '');
  const [again, setAgain] = useState(own('document')?.again ?? true);
  const [of, setOf] = useState(own('scan')?.of ?? ('checkpoint' as const));
  const [checkpoint, setCheckpoint] = useState<number | null>(own('scan')?.checkpoint ?? null);
  const [key, setKey] = useState(own('call')?.key ?? '');
  const [schedule, setSchedule] = useState<Schedule>(
    own('schedule')?.schedule ?? { kind: 'days', days: [1, 2, 3, 4, 5], at: '07:30', zone },
  );
  const columns = choices.lists.find((l) => l.id === list)?.columns ?? [];
  const next = ((): When | undefined => {
    switch (kind) {
      case 'record':
        return list && on.length > 0 ? { kind, list, on } : undefined;
      case 'reaches':
        return list && column ? { kind, list, column, value: value.trim() } : undefined;
      case 'document':
        return { kind, folder, again, list };
      case 'call':
        return { kind, list, key };
      case 'scan':
        return list ? { kind, of, checkpoint, list } : undefined;
      case 'schedule':
        return { kind, schedule };
      case 'hand':
        return list ? { kind, list } : undefined;
    }
  })();
  // what the server would refuse is reported while it is typed
  const trouble =
    kind === 'schedule' ? scheduleSchema.safeParse(schedule).error?.issues[0]?.message : undefined;
  const places = view.call?.places ?? [];
  return (
    <div style={{ display: 'grid', gap: 12 }}>
      {kind !== 'schedule' && (
        <Scroll
          label={
            kind === 'document' || kind === 'call' ? wording.whichListDoesThe : wording.whichList
          }
        >
          <Choose
            label={wording.list}
            value={list === null ? 'none' : String(list)}
            onChange={(id) => (setList(id === 'none' ? null : Number(id)), setColumn(undefined))}
            choices={[
              ...(kind === 'document' || kind === 'call'
                ? [
                    {
                      id: 'none',
                      name: wording.noList,
                      about: wording.itIsOnlyAbout,
                    },
                  ]
                : []),
              ...choices.lists.map((l) => ({ id: String(l.id), name: l.name })),
            ]}
          />
        </Scroll>
      )}
      {kind === 'document' && list !== null && <Small>{wording.theRecordWhoseKey}</Small>}
      {kind === 'record' && (
        <div style={{ display: 'grid', gap: 6 }}>
          {(['came', 'changed', 'went'] as const).map((one) => (
            <Check
              key={one}
              on={on.includes(one)}
              onChange={(is) => setOn(is ? [...on, one] : on.filter((o) => o !== one))}
            >
              {
                {
                  came: wording.whenItIsAdded,
                  changed: wording.whenItChanges,
                  went: wording.whenItIsDeleted,
                }[one]
              }
            </Check>
          ))}
        </div>
      )}
      {kind === 'reaches' && (
        <>
          <Scroll label={wording.whichColumn}>
            <Choose
              label={wording.column}
              value={column}
              onChange={setColumn}
              choices={columns.map((c) => ({ id: c.id, name: c.name }))}
            />
          </Scroll>
          <Words label={wording.value} value={value} onChange={setValue} />
        </>
      )}
      {kind === 'document' && (
        <>
          {choices.folders === null ? (
            <Small>{wording.thereIsNoIn}</Small>
          ) : (
            <Scroll label={wording.inWhichFolder}>
              <Choose
                label={wording.folder}
                value={folder === '' ? 'all' : folder}
                onChange={(f) => setFolder(f === 'all' ? '' : f)}
                choices={[
                  { id: 'all', name: wording.anywhereInTheIn },
                  ...choices.folders.map((f) => ({ id: f, name: f })),
                ]}
              />
            </Scroll>
          )}
          <Check on={again} onChange={setAgain}>
            {wording.alsoWhenAFile}
          </Check>
        </>
      )}
      {kind === 'call' && list !== null && (
        <Scroll label={wording.whichSentValueHolds}>
          {places.length === 0 ? (
            <Small>{wording.callItOnceOn}</Small>
          ) : (
            <Choose
              label={wording.value}
              value={key}
              onChange={setKey}
              choices={places.map(([id, example]) => ({ id, name: id, about: example }))}
            />
          )}
        </Scroll>
      )}
      {kind === 'scan' && (
        <>
          <Pick
            label={wording.howItIsScanned}
            choices={[
              { id: 'checkpoint' as const, name: wording.atACheckpoint },
              { id: 'link' as const, name: wording.itsLinkIsOpened },
            ]}
            value={of}
            onChange={setOf}
          />
          {of === 'checkpoint' && (
            <Scroll label={wording.where}>
              <Choose
                label={wording.checkpoint}
                value={checkpoint === null ? 'any' : String(checkpoint)}
                onChange={(id) => setCheckpoint(id === 'any' ? null : Number(id))}
                choices={[
                  { id: 'any', name: wording.atAnyCheckpoint },
                  ...choices.checkpoints.map((c) => ({ id: String(c.id), name: c.name })),
                ]}
              />
            </Scroll>
          )}
        </>
      )}
      {kind === 'schedule' && <ScheduleFields schedule={schedule} onChange={setSchedule} />}
      {trouble && <Warning role="status">{trouble}</Warning>}
      <div>
        <MainButton isDisabled={!next || trouble !== undefined} onPress={() => next && onUse(next)}>
          {wording.apply}
        </MainButton>
      </div>
    </div>
  );
}

const days = [
  wording.mon,
  wording.tue,
  wording.wed,
  wording.thu,
  wording.fri,
  wording.sat,
  wording.sun,
] as const;

function ScheduleFields({
  schedule,
  onChange,
}: {
  schedule: Schedule;
  onChange: (schedule: Schedule) => void;
}) {
  const { at, zone: where } = schedule;
  return (
    <>
      <Pick
        label={wording.howOften}
        choices={[
          { id: 'days' as const, name: wording.onDaysOfThe },
          { id: 'month' as const, name: wording.onceAMonth },
          { id: 'every' as const, name: wording.severalTimesAnHour },
        ]}
        value={schedule.kind}
        onChange={(kind) =>
          onChange(
            kind === 'every'
              ? { kind, minutes: 60, at, zone: where }
              : kind === 'days'
                ? { kind, days: [1, 2, 3, 4, 5], at, zone: where }
                : { kind, nth: 1, day: 1, at, zone: where },
          )
        }
      />
      {schedule.kind === 'every' ? (
        <Pick
          label={wording.howOftenPerHour}
          choices={everyMinutes.map((minutes) => ({ id: minutes, name: everyWords(minutes) }))}
          value={schedule.minutes}
          onChange={(minutes) => onChange({ ...schedule, minutes })}
        />
      ) : schedule.kind === 'days' ? (
        <div style={{ display: 'flex', flexWrap: 'wrap', gap: 12 }}>
          {days.map((day, i) => (
            <Check
              key={day}
              on={schedule.days.includes(i + 1)}
              onChange={(is) =>
                onChange({
                  ...schedule,
                  days: is
                    ? [...schedule.days, i + 1].sort((a, b) => a - b)
                    : schedule.days.filter((d) => d !== i + 1),
                })
              }
            >
              {day}
            </Check>
          ))}
        </div>
      ) : (
        <>
          <Pick
            label={wording.whichOneInThe}
            choices={[
              { id: 1, name: 'first' },
              { id: 2, name: 'second' },
              { id: 3, name: 'third' },
              { id: 4, name: 'fourth' },
              { id: 0, name: 'last' },
            ]}
            value={schedule.nth}
            onChange={(nth) => onChange({ ...schedule, nth })}
          />
          <Pick
            label={wording.whichDay}
            choices={days.map((name, i) => ({ id: i + 1, name }))}
            value={schedule.day}
            onChange={(day) => onChange({ ...schedule, day })}
          />
        </>
      )}
      {schedule.kind !== 'every' && (
        <>
          <Words
            label={wording.timeThere0730}
            value={at}
            onChange={(next) => onChange({ ...schedule, at: next.trim() })}
          />
          <Words
            label={wording.timeZoneEuropeLondon}
            value={where}
            onChange={(next) => onChange({ ...schedule, zone: next.trim() })}
          />
        </>
      )}
    </>
  );
}
