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
          label="Create a web page for each record"
          editor={(close) => (
            <div style={{ display: 'grid', gap: 10, maxWidth: 400 }}>
              <p>
                Each record gets its own web page at an address that cannot be guessed, also records
                that are added later. A code can lead there.
              </p>
              <Small>Anyone sees only its title until you choose more.</Small>
              <div>
                <MainButton
                  onPress={() => {
                    close();
                    void changeList(() => ask('startPages', { params }));
                  }}
                >
                  Create a web page for each record
                </MainButton>
              </div>
            </div>
          )}
        >
          Create a web page for each record
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
      .map((s) => name(s.column) ?? 'a deleted column')
      .join(', ') || 'nothing more';
  const pictures = columns.filter((c) => c.role === 'picture');
  const trouble = pages.sample ? doorTrouble(pages.sample) : undefined;
  const link = pages.sample && (
    <a href={new URL(pages.sample).pathname} target="_blank" rel="noreferrer">
      Open the selected record’s page
    </a>
  );
  const pictureWords =
    document.picture === null
      ? 'no picture'
      : `the picture of ${name(document.picture) ?? 'a deleted column'}`;
  const stamp = job.document.stamps.find((s) => s.id === document.stamp);
  const codeWords = stamp ? `the code of ${stamp.name}` : 'no code';
  const more: Setting = {
    id: 'signed-in',
    usual: seen('signed-in').length === 0,
    words: `shows people who are signed in ${words('signed-in')}`,
    part: (
      <>
        and people who are signed in also{' '}
        <Part
          label="What pages show people who are signed in"
          editor={<ShownEditor document={document} save={save} />}
        >
          {words('signed-in')}
        </Part>
      </>
    ),
  };
  const picture: Setting = {
    id: 'picture',
    usual: document.picture === null,
    words: pictureWords,
    part: (
      <>
        with{' '}
        <ChoicePart
          label="Picture on pages"
          value={document.picture ?? '-'}
          onChange={(id) => save({ picture: id === '-' ? null : id })}
          choices={[
            { id: '-', name: 'no picture' },
            ...pictures.map((c) => ({ id: c.id, name: `the picture of ${c.name}` })),
          ]}
        >
          {pictureWords}
        </ChoicePart>
      </>
    ),
  };
  const code: Setting = {
    id: 'code',
    usual: !stamp,
    words: codeWords,
    part: (
      <>
        with{' '}
        <ChoicePart
          label="Code on pages"
          value={document.stamp ?? '-'}
          onChange={(id) => save({ stamp: id === '-' ? null : id })}
          choices={[
            { id: '-', name: 'no code' },
            ...job.document.stamps.map((s) => ({ id: s.id, name: `the code of ${s.name}` })),
          ]}
        />
      </>
    ),
  };
  const settings = [more, ...(pictures.length > 0 ? [picture] : []), code];
  return (
    <>
      <Sentence $minor style={{ paddingTop: 3 }}>
        Each record has a page, in {pages.column}, which is{' '}
        <ChoicePart
          label="Whether pages are open"
          value={document.open ? 'open' : 'closed'}
          onChange={(id) => save({ open: id === 'open' })}
          choices={[
            { id: 'open', name: 'open', about: 'Anyone who has its address sees it.' },
            { id: 'closed', name: 'closed', about: 'Visitors read that it is closed for now.' },
          ]}
        />
        . Its title is{' '}
        <Part
          label="Title of pages"
          editor={(close) => (
            <ContentEditor
              parts={document.title}
              columns={showable(columns)}
              onChange={(title) => (save({ title }), close())}
            />
          )}
        >
          <PartsWords parts={document.title} empty="(empty)" />
        </Part>
        . It shows anyone{' '}
        <Part label="What pages show" editor={<ShownEditor document={document} save={save} />}>
          {words('anyone')}
        </Part>
        <UsualSettings parts={settings} end={<>. {link}</>} />
      </Sentence>
      {pages.gone > 0 && (
        <Small>
          {counted(pages.gone, 'page')} {plural(pages.gone, 'is', 'are')} to deleted records and
          {plural(pages.gone, ' says', ' say')} so
          {pages.gonePrinted > 0 &&
            `; ${counted(pages.gonePrinted, 'printed code')} ${plural(pages.gonePrinted, 'leads', 'lead')} to them and ${plural(pages.gonePrinted, 'does', 'do')} not work`}
          .
        </Small>
      )}
      {trouble && document.open && (
        <Warning>
          {new URL(pages.sample!).host} {trouble.message}, so nobody else opens these pages. You can
          change the address in Settings.
        </Warning>
      )}
    </>
  );
}

/** Of each column, who sees it on the pages; in the order in which it stands there. */
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
      <Small style={{ maxWidth: 380 }}>
        Choose who sees each column. Columns appear in the order in which you choose them.
      </Small>
      {[...listed, ...others].map((c) => (
        <Pick
          key={c.id}
          label={c.name}
          value={who(c.id)}
          onChange={(next) => say(c.id, next)}
          choices={[
            { id: 'anyone', name: 'anyone' },
            { id: 'signed-in', name: 'people who are signed in' },
            { id: 'nobody', name: 'nobody' },
          ]}
        />
      ))}
    </div>
  );
}
