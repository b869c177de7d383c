'use client';

import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { DialogTrigger } from 'react-aria-components';
import type { DeviceView } from '../../../contract';
import { firstStamp } from '../../../core/payload/stamp';
import { counted } from '../../../core/base/words';
import { ask } from '../../kit/api';
import { CodeSvg } from '../../kit/code-picture';
import {
  Editor,
  ErrorLine,
  MainButton,
  PlainButton,
  Pop,
  QuietButton,
  Small,
  Warning,
  Words,
} from '../../kit/controls';
import { useCode } from '../../kit/core-client';
import { Mark, type MarkName } from '../../kit/mark';
import { Pick } from '../../kit/pick';
import { colour, font } from '../../kit/theme';
import { atShort } from './words';
import { devices as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const states: Readonly<Record<DeviceView['state'], readonly [MarkName, string]>> = {
  asked: ['none', wording.hasNotJoinedYet],
  'in-touch': ['ready', 'online'],
  away: ['look', 'offline'],
  shut: ['out', 'removed'],
  over: ['out', 'expired'],
};

/** The devices at a checkpoint, and how one more joins. */
export function Devices({
  checkpoint,
  devices,
  changed,
}: {
  checkpoint: number;
  devices: readonly DeviceView[];
  changed: () => void;
}) {
  const shut = useMutation({
    mutationFn: (device: number) => ask('shutDevice', { params: { id: checkpoint, device } }),
    onSettled: changed,
  });
  const now = devices.filter((d) => d.state !== 'shut' && d.state !== 'over');
  const past = devices.length - now.length;
  return (
    <section style={{ display: 'grid', gap: 10, alignContent: 'start' }}>
      <h2 style={{ font: `700 16px/1.3 ${font.title}` }}>
        {withParts(wording.devices, now.length > 0 && `, ${now.length}`)}
      </h2>
      {now.length === 0 && <Small>{wording.noDeviceHasJoined}</Small>}
      <ul style={{ listStyle: 'none', margin: 0, padding: 0 }}>
        {now.map((device) => {
          const [mark, words] = states[device.state];
          return (
            <li
              key={device.id}
              style={{
                display: 'grid',
                gridTemplateColumns: '12px minmax(0, 1fr) auto',
                gap: 8,
                alignItems: 'baseline',
                padding: '7px 0',
                borderBottom: `1px solid ${colour.rule}`,
              }}
            >
              <Mark name={mark} />
              <span>
                {device.name}
                <Small>
                  {[
                    words,
                    device.state === 'away' && device.seen
                      ? filled(wording.lastSeen, atShort(device.seen))
                      : '',
                    device.waiting > 0
                      ? counted(device.waiting, wording.scanWaitsOnIt, wording.scansWaitOnIt)
                      : '',
                    Math.abs(device.clock) >= 5
                      ? filled(
                          wording.itsClockIsHand,
                          counted(Math.abs(device.clock), 'second'),
                          device.clock > 0 ? 'ahead' : 'behind',
                        )
                      : '',
                    device.state === 'asked' ? '' : filled(wording.until, atShort(device.ends)),
                  ]
                    .filter(Boolean)
                    .join(' · ')}
                </Small>
              </span>
              <PlainButton onPress={() => shut.mutate(device.id)}>{wording.remove}</PlainButton>
            </li>
          );
        })}
      </ul>
      {past > 0 && (
        <Small>
          {withParts(wording.before, counted(past, wording.deviceWasHere, wording.devicesWereHere))}
        </Small>
      )}
      {shut.error && <ErrorLine>{shut.error.message}</ErrorLine>}
      <div>
        <DialogTrigger>
          <QuietButton>{wording.addADevice}</QuietButton>
          <Pop placement="left top" offset={8}>
            <Editor aria-label={wording.addADevice}>
              {({ close }) => (
                <LetIn checkpoint={checkpoint} devices={devices} changed={changed} close={close} />
              )}
            </Editor>
          </Pop>
        </DialogTrigger>
      </div>
    </section>
  );
}

const stamp = { ...firstStamp([]), parts: [{ kind: 'column' as const, column: 'a' }] };

function LetIn({
  checkpoint,
  devices,
  changed,
  close,
}: {
  checkpoint: number;
  devices: readonly DeviceView[];
  changed: () => void;
  close: () => void;
}) {
  const [name, setName] = useState('');
  const [hours, setHours] = useState(12);
  const add = useMutation({
    mutationFn: () =>
      ask('addDevice', { params: { id: checkpoint }, body: { name: name.trim(), hours } }),
    onSuccess: changed,
  });
  const code = useCode(stamp, add.data ? { a: add.data.address } : undefined);
  const joined = devices.find((d) => d.id === add.data?.id && d.state !== 'asked');
  const go = () => name.trim() !== '' && !add.isPending && add.mutate();
  if (joined)
    return (
      <div style={{ display: 'grid', gap: 10, width: 300 }}>
        <p role="status" style={{ display: 'flex', gap: 8, alignItems: 'baseline' }}>
          {withParts(wording.hasJoined, <Mark name="ready" />, joined.name)}
        </p>
        <div style={{ display: 'flex', gap: 8 }}>
          <QuietButton autoFocus onPress={close}>
            {wording.done}
          </QuietButton>
          <PlainButton onPress={() => (add.reset(), setName(''))}>{wording.addAnother}</PlainButton>
        </div>
      </div>
    );
  if (add.data) {
    const { hostname, protocol } = new URL(add.data.address);
    const own = ['localhost', '127.0.0.1', '[::1]'].includes(hostname);
    return (
      <div style={{ display: 'grid', gap: 10, width: 300 }}>
        <p>{withParts(wording.scanThisWithThe, atShort(add.data.until))}</p>
        <div style={{ background: '#fff', width: 'fit-content' }}>
          {code ? (
            <CodeSvg code={code} size={240} label={wording.codeByWhichThe} />
          ) : (
            <div style={{ width: 240, height: 240 }} />
          )}
        </div>
        {own && <Warning>{wording.phonesCannotOpenThis}</Warning>}
        {!own && protocol !== 'https:' && <Warning>{wording.theCameraNeedsAn}</Warning>}
        <Small>
          {withParts(
            wording.orOpenOnThe,
            <a href={add.data.address} target="_blank" rel="noreferrer">
              {wording.thisLink}
            </a>,
          )}
        </Small>
      </div>
    );
  }
  return (
    <div style={{ display: 'grid', gap: 10, width: 300 }}>
      <Words
        label={wording.nameOfTheDevice}
        value={name}
        onChange={setName}
        autoFocus
        onEnter={go}
      />
      <Pick
        label={wording.itMayScanFor}
        value={hours}
        onChange={setHours}
        choices={[
          { id: 4, name: wording.n4Hours },
          { id: 12, name: wording.n12Hours },
          { id: 72, name: wording.n3Days },
        ]}
      />
      {add.error && <ErrorLine>{add.error.message}</ErrorLine>}
      <div>
        <MainButton isDisabled={name.trim() === '' || add.isPending} onPress={go}>
          {wording.showItsCode}
        </MainButton>
      </div>
    </div>
  );
}
