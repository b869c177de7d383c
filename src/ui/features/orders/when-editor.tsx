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

const kinds: readonly { id: WhenKind; name: string; about: string }[] = [
  { id: 'record', name: 'a record is added, changed or deleted', about: 'In one of the lists.' },
  {
    id: 'reaches',
    name: 'a column gets a certain value',
    about: 'For example, its State becomes “withdrawn”.',
  },
  {
    id: 'document',
    name: 'a file arrives in the In-tray',
    about: 'Or in one of its folders, or is saved again there.',
  },
  {
    id: 'call',
    name: 'a program calls this order',
    about: 'At a web address of its own, with a secret.',
  },
  { id: 'scan', name: 'a code is scanned', about: 'At a checkpoint, or when its link is opened.' },
  {
    id: 'schedule',
    name: 'a scheduled time',
    about: 'Every day, on some days of the week, or once a month.',
  },
  { id: 'hand', name: 'someone starts it by hand', about: 'For the records ticked in a job.' },
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
          <summary style={{ cursor: 'pointer' }}>Start from something else</summary>
          <div style={{ marginTop: 10 }}>
            <Choose
              label="What it starts from"
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
  // of none is a choice too, where it was made
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
  // what the server would refuse is said while it is typed
  const trouble =
    kind === 'schedule' ? scheduleSchema.safeParse(schedule).error?.issues[0]?.message : undefined;
  const places = view.call?.places ?? [];
  return (
    <div style={{ display: 'grid', gap: 12 }}>
      {kind !== 'schedule' && (
        <Scroll
          label={
            kind === 'document' || kind === 'call'
              ? 'Which list does the record belong to?'
              : 'Which list?'
          }
        >
          <Choose
            label="List"
            value={list === null ? 'none' : String(list)}
            onChange={(id) => (setList(id === 'none' ? null : Number(id)), setColumn(undefined))}
            choices={[
              ...(kind === 'document' || kind === 'call'
                ? [
                    {
                      id: 'none',
                      name: 'no list',
                      about: 'It is only about the file or the call.',
                    },
                  ]
                : []),
              ...choices.lists.map((l) => ({ id: String(l.id), name: l.name })),
            ]}
          />
        </Scroll>
      )}
      {kind === 'document' && list !== null && (
        <Small>The record whose key is in the name of the file.</Small>
      )}
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
                  came: 'when it is added',
                  changed: 'when it changes',
                  went: 'when it is deleted',
                }[one]
              }
            </Check>
          ))}
        </div>
      )}
      {kind === 'reaches' && (
        <>
          <Scroll label="Which column?">
            <Choose
              label="Column"
              value={column}
              onChange={setColumn}
              choices={columns.map((c) => ({ id: c.id, name: c.name }))}
            />
          </Scroll>
          <Words label="Value" value={value} onChange={setValue} />
        </>
      )}
      {kind === 'document' && (
        <>
          {choices.folders === null ? (
            <Small>There is no In-tray here. Ask an administrator to set one up.</Small>
          ) : (
            <Scroll label="In which folder?">
              <Choose
                label="Folder"
                value={folder === '' ? 'all' : folder}
                onChange={(f) => setFolder(f === 'all' ? '' : f)}
                choices={[
                  { id: 'all', name: 'anywhere in the In-tray' },
                  ...choices.folders.map((f) => ({ id: f, name: f })),
                ]}
              />
            </Scroll>
          )}
          <Check on={again} onChange={setAgain}>
            also when a file there is saved again
          </Check>
        </>
      )}
      {kind === 'call' && list !== null && (
        <Scroll label="Which sent value holds the key of the record?">
          {places.length === 0 ? (
            <Small>
              Call it once, on or off. Then you can choose from the values that were sent.
            </Small>
          ) : (
            <Choose
              label="Value"
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
            label="How it is scanned"
            choices={[
              { id: 'checkpoint' as const, name: 'at a checkpoint' },
              { id: 'link' as const, name: 'its link is opened' },
            ]}
            value={of}
            onChange={setOf}
          />
          {of === 'checkpoint' && (
            <Scroll label="Where?">
              <Choose
                label="Checkpoint"
                value={checkpoint === null ? 'any' : String(checkpoint)}
                onChange={(id) => setCheckpoint(id === 'any' ? null : Number(id))}
                choices={[
                  { id: 'any', name: 'at any checkpoint' },
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
          Apply
        </MainButton>
      </div>
    </div>
  );
}

const days = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'] as const;

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
        label="How often"
        choices={[
          { id: 'days' as const, name: 'on days of the week' },
          { id: 'month' as const, name: 'once a month' },
          { id: 'every' as const, name: 'several times an hour' },
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
          label="How often per hour"
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
            label="Which one in the month"
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
            label="Which day"
            choices={days.map((name, i) => ({ id: i + 1, name }))}
            value={schedule.day}
            onChange={(day) => onChange({ ...schedule, day })}
          />
        </>
      )}
      {schedule.kind !== 'every' && (
        <>
          <Words
            label="Time there (07:30)"
            value={at}
            onChange={(next) => onChange({ ...schedule, at: next.trim() })}
          />
          <Words
            label="Time zone (Europe/London)"
            value={where}
            onChange={(next) => onChange({ ...schedule, zone: next.trim() })}
          />
        </>
      )}
    </>
  );
}
