'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { PageSetView } from '../../../contract';
import { counted, plural } from '../../../core/base/words';
import { showable, type PageEyes, type PageSetDocument } from '../../../core/links/pages';
import { doorTrouble } from '../../../core/payload/door';
import { ask } from '../../kit/api';
import { ChoicePart, MainButton, Part, Sentence, Small, Warning } from '../../kit/controls';
import { Pick } from '../../kit/pick';
import { ContentEditor } from '../../editors/stamp/content-editor';
import { PartsWords } from '../../editors/stamp/purpose-part';
import { UsualSettings, type Setting } from '../../kit/usual';
import { useHand, useJob } from '../../shell/ledger/context';
import { pagesSentence as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

type Pages = NonNullable<PageSetView['pages']>;

/** The pages of the records, as a sentence; or the way to them. */
export function PagesSentence() {
  const { job, changeList, setProblem } = useJob();
  const { handRow } = useHand();
  const client = useQueryClient();
  const params = { id: job.list.id };
  const key = ['pages', job.list.id, job.list.revision, handRow?.id];
  const { data } = useQuery({
    queryKey: key,
    queryFn: () => ask('viewPages', { params, query: { record: handRow?.id } }),
    placeholderData: (before) => before,
  });
  if (!data) return null;
  if (!data.pages)
    return (
      <Sentence $minor style={{ paddingTop: 3 }}>
        <Part
          acts
          label={wording.createAWebPage}
          editor={(close) => (
            <div style={{ display: 'grid', gap: 10, maxWidth: 400 }}>
              <p>{wording.eachRecordGetsIts}</p>
              <Small>{wording.anyoneSeesOnlyIts}</Small>
              <div>
                <MainButton
                  onPress={() => {
                    close();
                    void changeList(() => ask('startPages', { params }));
                  }}
                >
                  {wording.createAWebPage}
                </MainButton>
              </div>
            </div>
          )}
        >
          {wording.createAWebPage}
        </Part>
      </Sentence>
    );
  const { pages } = data;
  const save = (next: Partial<PageSetDocument>) => {
    const document = { ...pages.document, ...next };
    ask('changePages', { params, body: { version: pages.version, document } }).then(
      (now) => client.setQueryData(key, now),
      (e: unknown) => {
        setProblem(e instanceof Error ? e.message : String(e));
        void client.invalidateQueries({ queryKey: ['pages'] });
      },
    );
  };
  return <Shown pages={pages} save={save} />;
}

function Shown({ pages, save }: { pages: Pages; save: (next: Partial<PageSetDocument>) => void }) {
  const { job } = useJob();
  const { columns } = job.list;
  const { document } = pages;
  const name = (id: string | null) => columns.find((c) => c.id === id)?.name;
  const seen = (who: PageEyes) => document.shown.filter((s) => s.who === who);
  const words = (who: PageEyes) =>
    seen(who)
      .map((s) => name(s.column) ?? wording.aDeletedColumn)
      .join(', ') || wording.nothingMore;
  const pictures = columns.filter((c) => c.role === 'picture');
  const trouble = pages.sample ? doorTrouble(pages.sample) : undefined;
  const link = pages.sample && (
    <a href={new URL(pages.sample).pathname} target="_blank" rel="noreferrer">
      {wording.openTheSelectedRecords}
    </a>
  );
  const pictureWords =
    document.picture === null
      ? wording.noPicture
      : filled(wording.thePictureOf, name(document.picture) ?? wording.aDeletedColumn);
  const stamp = job.document.stamps.find((s) => s.id === document.stamp);
  const codeWords = stamp ? filled(wording.theCodeOf, stamp.name) : wording.noCode;
  const more: Setting = {
    id: 'signed-in',
    usual: seen('signed-in').length === 0,
    words: filled(wording.showsPeopleWhoAre, words('signed-in')),
    part: withParts(
      wording.andPeopleWhoAre,
      <Part
        label={wording.whatPagesShowPeople}
        editor={<ShownEditor document={document} save={save} />}
      >
        {words('signed-in')}
      </Part>,
    ),
  };
  const picture: Setting = {
    id: 'picture',
    usual: document.picture === null,
    words: pictureWords,
    part: withParts(
      wording.with,
      <ChoicePart
        label={wording.pictureOnPages}
        value={document.picture ?? '-'}
        onChange={(id) => save({ picture: id === '-' ? null : id })}
        choices={[
          { id: '-', name: wording.noPicture },
          ...pictures.map((c) => ({ id: c.id, name: filled(wording.thePictureOf, c.name) })),
        ]}
      >
        {pictureWords}
      </ChoicePart>,
    ),
  };
  const code: Setting = {
    id: 'code',
    usual: !stamp,
    words: codeWords,
    part: withParts(
      wording.with,
      <ChoicePart
        label={wording.codeOnPages}
        value={document.stamp ?? '-'}
        onChange={(id) => save({ stamp: id === '-' ? null : id })}
        choices={[
          { id: '-', name: wording.noCode },
          ...job.document.stamps.map((s) => ({
            id: s.id,
            name: filled(wording.theCodeOf, s.name),
          })),
        ]}
      />,
    ),
  };
  const settings = [more, ...(pictures.length > 0 ? [picture] : []), code];
  return (
    <>
      <Sentence $minor style={{ paddingTop: 3 }}>
        {withParts(
          wording.eachRecordHasA,
          pages.column,
          <ChoicePart
            label={wording.whetherPagesAreOpen}
            value={document.open ? 'open' : 'closed'}
            onChange={(id) => save({ open: id === 'open' })}
            choices={[
              { id: 'open', name: 'open', about: wording.anyoneWhoHasIts },
              { id: 'closed', name: 'closed', about: wording.visitorsReadThatIt },
            ]}
          />,
          <Part
            label={wording.titleOfPages}
            editor={(close) => (
              <ContentEditor
                parts={document.title}
                columns={showable(columns)}
                onChange={(title) => (save({ title }), close())}
              />
            )}
          >
            <PartsWords parts={document.title} empty={wording.empty} />
          </Part>,
          <Part
            label={wording.whatPagesShow}
            editor={<ShownEditor document={document} save={save} />}
          >
            {words('anyone')}
          </Part>,
          <UsualSettings parts={settings} end={<>. {link}</>} />,
        )}
      </Sentence>
      {pages.gone > 0 && (
        <Small>
          {withParts(
            wording.toDeletedRecordsAnd,
            counted(pages.gone, 'page'),
            plural(pages.gone, 'is', 'are'),
            plural(pages.gone, ' says', ' say'),
            pages.gonePrinted > 0 &&
              filled(
                wording.toThemAndNot,
                counted(pages.gonePrinted, wording.printedCode),
                plural(pages.gonePrinted, 'leads', 'lead'),
                plural(pages.gonePrinted, 'does', 'do'),
              ),
          )}
        </Small>
      )}
      {trouble && document.open && (
        <Warning>
          {withParts(wording.soNobodyElseOpens, new URL(pages.sample!).host, trouble.message)}
        </Warning>
      )}
    </>
  );
}

/** For each column, who sees it on the pages; in the order of the pages. */
function ShownEditor({
  document,
  save,
}: {
  document: PageSetDocument;
  save: (next: Partial<PageSetDocument>) => void;
}) {
  const { job } = useJob();
  const may = showable(job.list.columns);
  const listed = document.shown.flatMap((s) => may.find((c) => c.id === s.column) ?? []);
  const others = may.filter((c) => !listed.includes(c));
  const who = (id: string) => document.shown.find((s) => s.column === id)?.who ?? 'nobody';
  const say = (id: string, next: PageEyes | 'nobody') =>
    save({
      shown:
        next === 'nobody'
          ? document.shown.filter((s) => s.column !== id)
          : who(id) === 'nobody'
            ? [...document.shown, { column: id, who: next }]
            : document.shown.map((s) => (s.column === id ? { ...s, who: next } : s)),
    });
  return (
    <div style={{ display: 'grid', gap: 10, maxHeight: 420, overflow: 'auto', paddingRight: 8 }}>
      <Small style={{ maxWidth: 380 }}>{wording.chooseWhoSeesEach}</Small>
      {[...listed, ...others].map((c) => (
        <Pick
          key={c.id}
          label={c.name}
          value={who(c.id)}
          onChange={(next) => say(c.id, next)}
          choices={[
            { id: 'anyone', name: 'anyone' },
            { id: 'signed-in', name: wording.peopleWhoAreSigned },
            { id: 'nobody', name: 'nobody' },
          ]}
        />
      ))}
    </div>
  );
}
