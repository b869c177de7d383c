'use client';
import { keyColumn, nameColumn, type ColumnRole } from '../../../core/records/columns';
import { counted } from '../../../core/base/words';
import { ask } from '../../kit/api';
import { ChoicePart, Part, PlainButton, Sentence, Words } from '../../kit/controls';
import { useJob } from '../../shell/ledger/context';
import { scroll } from '../../shell/ledger/scroll';
import { isWhole } from '../../shell/ledger/view';
import { HiddenColumns } from './column-editor';
import { ProblemsLine } from './problems-line';
import { RereadLine, SourcePart } from './reread';
import { RevisionsPart } from './revisions';
import { ViewWords } from './view-words';
import { PagesSentence } from './pages-sentence';
import { WorkedSentences } from './worked/worked-sentences';
import { useRoles } from './records-table';
import { records as wording } from './words';
import { withParts } from '../../kit/with-parts';

/** The records in one sentence, then their problems, then the worked columns. */
export function RecordsSentence() {
  const { job, view } = useJob();
  const { columns } = job.list;
  const assign = useRoles();
  const key = keyColumn(columns);
  const name = nameColumn(columns);
  const shown = columns.filter((c) => !c.hidden);
  const choices = shown.map((c) => ({ id: c.id, name: c.name }));
  const take = (role: ColumnRole) => (id: string) =>
    assign(
      columns.map((c) => ({
        id: c.id,
        role: c.id === id ? role : c.role === role ? 'text' : c.role,
      })),
    );
  return (
    <>
      <div style={{ minWidth: 0 }}>
        <RereadLine />
        <Sentence>
          {withParts(
            wording.withFromKeyTitle,
            counted(job.counts.all, 'record'),
            counted(shown.length, 'column'),
            <SourcePart />,
            <ChoicePart
              label={wording.keyColumnANumber}
              choices={choices}
              value={key?.id}
              onChange={take('key')}
            >
              {key?.name ?? wording.noColumnYet}
            </ChoicePart>,
            <ChoicePart
              label={wording.titleColumn}
              choices={choices}
              value={name?.id}
              onChange={take('name')}
            >
              {name?.name ?? wording.noColumnYet}
            </ChoicePart>,
            <RevisionsPart />,
            <HiddenColumns />,
            !isWhole(view) && <ViewWords />,
          )}
        </Sentence>
        <ProblemsLine />
        <WorkedSentences />
        <PagesSentence />
      </div>
    </>
  );
}

/** Actions for the whole list, next to the headings of its columns. */
export function RecordsTools() {
  const { job, step, changeList, jump, openBand } = useJob();
  const addRecord = async () => {
    const added = await changeList(() =>
      ask('addRecords', { params: { id: job.list.id }, body: { records: [{}] } }),
    );
    if (!added) return;
    // shown whatever the list is searched by, and ready to type
    openBand('records');
    jump({ record: added.ids[0]! });
    scroll.take(0);
    // the button has done its work: keys go to the new cell
    if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
  };
  return (
    <div
      style={{
        gridColumn: 1,
        display: 'grid',
        gridTemplateColumns: 'auto auto',
        alignContent: 'center',
        justifyContent: 'start',
        paddingLeft: 4,
      }}
    >
      <PlainButton
        isDisabled={!job.canUndo}
        onPress={() => step('undo')}
        style={{ textAlign: 'left' }}
      >
        {wording.undo}
      </PlainButton>
      <PlainButton
        isDisabled={!job.canRedo}
        onPress={() => step('redo')}
        style={{ textAlign: 'left' }}
      >
        {wording.redo}
      </PlainButton>
      <PlainButton onPress={() => void addRecord()}>{wording.addARecord}</PlainButton>
      <Part label={wording.addAColumn} plain editor={(close) => <NewColumn close={close} />}>
        {wording.addAColumn}
      </Part>
    </div>
  );
}

function NewColumn({ close }: { close: () => void }) {
  const { job, changeList } = useJob();
  const add = (name: string) =>
    void changeList(() =>
      ask('changeColumn', { params: { id: job.list.id }, body: { does: 'add', name } }),
    );
  return (
    <WordsAndUse
      label={wording.nameOfTheNew}
      use={wording.addColumn}
      onUse={(name) => (add(name), close())}
    />
  );
}

function WordsAndUse({
  label,
  use,
  onUse,
}: {
  label: string;
  use: string;
  onUse: (text: string) => void;
}) {
  return (
    <form
      style={{ display: 'flex', gap: 8, alignItems: 'end' }}
      onSubmit={(e) => {
        e.preventDefault();
        const text = new FormData(e.currentTarget).get('text');
        if (typeof text === 'string' && text.trim()) onUse(text.trim());
      }}
    >
      <Words label={label} name="text" autoFocus />
      <PlainButton type="submit">{use}</PlainButton>
    </form>
  );
}
