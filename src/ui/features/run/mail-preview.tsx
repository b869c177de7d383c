'use client';

import { useEffect, useRef, useState } from 'react';
import { styled } from 'styled-components';
import { mailWords } from '../../../core/mail/mail';
import { stampsInMail } from '../../../core/run/outputs/mail-codes';
import { onGround } from '../../../core/grounds';
import { groundOf } from '../../../core/piece/model';
import type { Stamp } from '../../../core/payload/stamp';
import { nameColumn, type Values } from '../../../core/records/columns';
import { shown } from '../../../core/records/sealed';
import { outputOf } from '../../../core/run/outputs';
import { CodeSvg } from '../../kit/code-picture';
import { ErrorLine, QuietButton, Small } from '../../kit/controls';
import { useCode } from '../../kit/core-client';
import { Mark } from '../../kit/mark';
import { colour, font } from '../../kit/theme';
import { useHand, useJob } from '../../shell/ledger/context';
import { useMail, useMailServer } from './mail-parts';
import { useProof } from './proof';
import { mailPreview as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const Letter = styled.article`
  background: ${colour.paper};
  outline: 1px solid ${colour.ruleStrong};
  width: min(600px, 100%);
  align-self: start;
  font-size: 15px;
  line-height: 1.5;
  header {
    padding: 14px 24px 12px;
    border-bottom: 1px solid ${colour.rule};
    display: grid;
    gap: 2px;
    font-size: 13px;
    color: ${colour.inkSoft};
    overflow-wrap: anywhere;
  }
  h3 {
    font: 700 18px/1.3 ${font.title};
    color: ${colour.ink};
    margin-bottom: 4px;
  }
  .body {
    padding: 18px 24px 22px;
    display: grid;
    gap: 14px;
    overflow-wrap: anywhere;
    white-space: pre-wrap;
  }
  iframe {
    display: block;
    border: 0;
    background: #fff;
  }
  .codes {
    display: flex;
    flex-wrap: wrap;
    gap: 18px;
  }
  footer {
    padding: 9px 24px;
    border-top: 1px solid ${colour.rule};
    font-size: 13px;
    color: ${colour.inkSoft};
  }
`;

/** The email of the selected record, as its reader will see it. */
export function MailPreview() {
  const { job, setHand, total } = useJob();
  const { hand, handRow } = useHand();
  const [mail] = useMail();
  const server = useMailServer(true);
  const { data: proof, error } = useProof(0);
  if (error) return <div className="sheets">{<ErrorLine>{error.message}</ErrorLine>}</div>;
  if (!handRow)
    return (
      <div className="sheets">
        <Small>{wording.loading}</Small>
      </div>
    );
  const { values } = handRow;
  const { columns } = job.list;
  const { subject, paragraphs } = mailWords(mail, values);
  const name = shown(values[nameColumn(columns)?.id ?? ''] ?? '');
  const left = proof?.leftOut.find((l) => l.record === handRow.id);
  const from = server.data?.server;
  const borne = onGround(job.document.piece).stampsOn(job.document.piece);
  const codes = stampsInMail(mail, job.document.stamps, borne);
  const isPage = groundOf(job.document.piece) === 'html' && mail.says !== 'words';
  const pictures = codes.length > 0 && (
    <div className="codes">
      {codes.map((stamp) => (
        <MailCode key={stamp.id} stamp={stamp} values={values} />
      ))}
    </div>
  );
  return (
    <div className="sheets">
      <div className="pager">
        <QuietButton looks isDisabled={hand === 0} onPress={() => setHand(hand - 1)}>
          {wording.previousRecord}
        </QuietButton>
        <span>
          {withParts(wording.ofShown, (hand + 1).toLocaleString('en'), total.toLocaleString('en'))}
        </span>
        <QuietButton looks isDisabled={hand >= total - 1} onPress={() => setHand(hand + 1)}>
          {wording.nextRecord}
        </QuietButton>
      </div>
      <Letter aria-label={filled(wording.emailTo, name)}>
        <header>
          <h3>{shown(subject) || wording.noSubject}</h3>
          <span>
            {withParts(
              wording.from,
              from ? `${from.senderName} <${from.sender}>` : wording.theSenderFromSettings,
            )}
          </span>
          <span>
            {withParts(
              wording.to,
              name,
              '<',
              shown(values[mail.to ?? ''] ?? '') || wording.noEmailAddress,
              '>',
            )}
          </span>
          {left && (
            <span style={{ color: colour.look }}>
              {withParts(wording.noEmailGoesTo, <Mark name="look" />, left.reason)}
            </span>
          )}
        </header>
        {isPage ? (
          <PageFrame
            src={`/api/jobs/${job.id}/document/page/${handRow.id}?v=${job.version}-${job.list.revision}`}
          />
        ) : (
          <div className="body">
            {mail.codes === 'above' && pictures}
            {paragraphs.map((text, i) => (
              <p key={i}>{shown(text)}</p>
            ))}
            {mail.codes === 'below' && pictures}
          </div>
        )}
        {mail.attach && (
          <footer>{withParts(wording.attached, outputOf(mail.attach).attached)}</footer>
        )}
      </Letter>
    </div>
  );
}

/** Pages are made for this width, in px; in less space they are shown smaller. */
const pageWidth = 660;

/** A page in a frame that runs and loads nothing. */
function PageFrame({ src }: { src: string }) {
  const box = useRef<HTMLDivElement>(null);
  const [zoom, setZoom] = useState(0.6);
  useEffect(() => {
    if (!box.current) return;
    const observer = new ResizeObserver(([entry]) =>
      setZoom(Math.min(1, entry!.contentRect.width / pageWidth)),
    );
    observer.observe(box.current);
    return () => observer.disconnect();
  }, []);
  return (
    <div ref={box} style={{ overflow: 'hidden', contain: 'inline-size' }}>
      <iframe
        title={wording.thePageOfThis}
        sandbox=""
        src={src}
        style={{ width: pageWidth, height: 430 / zoom, zoom }}
      />
    </div>
  );
}

function MailCode({ stamp, values }: { stamp: Stamp; values: Values }) {
  const code = useCode(stamp, values);
  return code ? (
    <CodeSvg code={code} size={Math.max(180, Math.round((stamp.look.sizeMm / 25.4) * 96))} />
  ) : (
    <Small>{wording.noCodeAValue}</Small>
  );
}
