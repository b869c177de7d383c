'use client';

import { useEffect, useState } from 'react';
import { styled } from 'styled-components';
import { CodeSvg } from '../../kit/code-picture';
import { useCode } from '../../kit/core-client';
import { colour, font } from '../../kit/theme';
import { channelName, type Message, type Shown } from './channel';
import { largeCode as wording } from './words';
import { filled } from '../../kit/with-parts';

const Stage = styled.main`
  display: grid;
  grid-template-rows: 1fr auto;
  place-items: center;
  background: ${colour.paper};
  padding: 4vmin;
  min-height: 0;
  h1 {
    font: 700 clamp(20px, 5vmin, 54px) / 1.2 ${font.title};
    text-align: center;
    padding-top: 2vmin;
    overflow-wrap: anywhere;
  }
`;

/** A desk display: one code as large as the window, following the One code screen. */
export function LargeCode() {
  const [shown, setShown] = useState<Shown>();
  const [side, setSide] = useState(300);
  useEffect(() => {
    const channel = new BroadcastChannel(channelName);
    channel.onmessage = ({ data }: MessageEvent<Message>) =>
      data.kind === 'show' && setShown(data.shown);
    channel.postMessage({ kind: 'ask' } satisfies Message);
    const fit = () => setSide(Math.min(window.innerWidth * 0.86, window.innerHeight * 0.72));
    fit();
    window.addEventListener('resize', fit);
    return () => {
      channel.close();
      window.removeEventListener('resize', fit);
    };
  }, []);
  const code = useCode(shown?.stamp, shown?.values);
  if (!shown) return <Stage>{wording.chooseACodeOn}</Stage>;
  const wide = code ? Math.min(side, (side * code.columns) / code.rows) : side;
  return (
    <Stage>
      {code ? (
        <CodeSvg code={code} size={wide} label={filled(wording.codeOf, shown.title)} />
      ) : (
        <p>{code === null ? wording.thereIsNoCode : ''}</p>
      )}
      <h1>{shown.title}</h1>
    </Stage>
  );
}
