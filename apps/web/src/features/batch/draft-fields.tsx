import type { FieldDefinition } from '@gray-loom/core/fields';
import { Combobox } from '../../ui/combobox';
import type { Known } from '../segments/names';
import { valueChoices } from '../segments/operators';
import type { BatchDraft } from './batch-draft';

interface DraftFieldsProps {
  draft: BatchDraft;
  known: Known;
  onChange: (draft: BatchDraft) => void;
}

const CHANNELS: [BatchDraft['channel'], string][] = [
  ['email', 'e-mail'],
  ['text', 'texts'],
  ['call', 'calls'],
  ['voicemail', 'voicemail'],
  ['post', 'post'],
];
/** Of parts, or of one person alone. */
const NEVER = new Set(['fullName', 'letterLine', 'salutation', 'externalId', 'tags']);
const NO_TEXT = new Set<FieldDefinition['type']>(['picture', 'relation', 'address']);

/** What is still to be said of a change, by its kind. */
export function DraftFields({ draft, known, onChange }: DraftFieldsProps) {
  const set = (change: Partial<BatchDraft>) => onChange({ ...draft, ...change });
  switch (draft.kind) {
    case 'tags':
      return (
        <>
          <Labels
            name={draft.only ? 'Set to' : 'Add'}
            labels={draft.add}
            known={known}
            onChange={(add) => set({ add })}
          />
          {draft.only ? null : (
            <Labels name="Take off" labels={draft.remove} known={known} onChange={(remove) => set({ remove })} />
          )}
          <label className="mt-2 ml-26 flex items-center gap-1.5">
            <input type="checkbox" checked={draft.only} onChange={(event) => set({ only: event.target.checked })} />
            in place of all tags that are there
          </label>
        </>
      );
    case 'set':
    case 'fill':
    case 'clear':
      return <FieldAndValue draft={draft} known={known} onChange={onChange} />;
    case 'permission':
      return (
        <>
          <div className="mt-2 flex items-center gap-2">
            <span className="w-24 text-ink2">Channel</span>
            <select
              className="field"
              aria-label="Channel"
              value={draft.channel}
              onChange={(event) => set({ channel: event.target.value as BatchDraft['channel'] })}
            >
              {CHANNELS.map(([key, text]) => (
                <option key={key} value={key}>
                  {text}
                </option>
              ))}
            </select>
            <select
              className="field"
              aria-label="What was said"
              value={draft.state}
              onChange={(event) => set({ state: event.target.value as BatchDraft['state'] })}
            >
              <option value="optedOut">stop</option>
              <option value="allowed">allowed</option>
            </select>
          </div>
          <label className="mt-2 flex items-center gap-2">
            <span className="w-24 text-ink2">How it was said</span>
            <input
              className="field flex-1"
              placeholder={draft.state === 'allowed' ? 'asked for: what, where and when' : 'may be left out'}
              value={draft.how}
              onChange={(event) => set({ how: event.target.value })}
            />
          </label>
        </>
      );
    case 'sync':
      return (
        <div className="mt-2 flex items-center gap-2">
          <span className="w-24 text-ink2">Connection</span>
          <select
            className="field"
            aria-label="Connection"
            value={draft.connectionId}
            onChange={(event) => set({ connectionId: Number(event.target.value) })}
          >
            <option value={0}>choose</option>
            {known.choices?.connections.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
          <select
            className="field"
            aria-label="How it has them"
            value={draft.choice}
            onChange={(event) => set({ choice: event.target.value as BatchDraft['choice'] })}
          >
            <option value="send">sent with its next run</option>
            <option value="never">never sent</option>
            <option value="">by its rules</option>
          </select>
        </div>
      );
    default:
      return (
        <p className="mt-2 text-ink2">
          They can be brought back: from the ledger, or from the list of those who are deleted.
        </p>
      );
  }
}

function Labels({
  name,
  labels,
  known,
  onChange,
}: {
  name: string;
  labels: string[];
  known: Known;
  onChange: (labels: string[]) => void;
}) {
  const add = (label: string) => (labels.includes(label) ? undefined : onChange([...labels, label]));
  return (
    <div className="mt-2 flex flex-wrap items-center gap-1.5">
      <span className="w-24 text-ink2">{name}</span>
      {labels.map((label) => (
        <span key={label} className="inline-flex items-center rounded-loom border border-strong bg-page pl-1.5">
          {label}
          <button
            type="button"
            aria-label={`Not ${label}`}
            className="min-h-6 px-1.5 text-ink3 hover:text-ink"
            onClick={() => onChange(labels.filter((one) => one !== label))}
          >
            ×
          </button>
        </span>
      ))}
      <Combobox
        label={`${name}: choose a tag`}
        value={null}
        choices={(known.lists?.tags ?? []).map((tag) => ({ value: tag.label, text: tag.label }))}
        className="min-h-6 rounded-loom border border-dashed border-strong px-1.5 text-ink2 hover:text-ink"
        onChoose={add}
        {...(name === 'Take off' ? {} : { onCreate: add, createText: (text: string) => `New tag "${text}"` })}
      >
        + tag
      </Combobox>
    </div>
  );
}

function FieldAndValue({ draft, known, onChange }: DraftFieldsProps) {
  const fields = known.catalogue.fields.filter(
    ({ key, type, retired, unique }) =>
      !retired &&
      !NEVER.has(key) &&
      (draft.kind === 'clear' ? type !== 'picture' : !NO_TEXT.has(type) && unique !== 'refuse'),
  );
  const choices = draft.field ? valueChoices(draft.field, known) : null;
  const type = known.catalogue.find(draft.field)?.type;
  return (
    <div className="mt-2 flex flex-wrap items-center gap-2">
      <span className="w-24 text-ink2">Field</span>
      <Combobox
        label="Field"
        value={draft.field || null}
        choices={fields.map(({ key, name }) => ({ value: key, text: name }))}
        className="field min-w-36 text-left"
        onChoose={(field) => onChange({ ...draft, field, text: '' })}
      >
        {draft.field ? known.field(draft.field) : 'choose'}
      </Combobox>
      {draft.kind === 'clear' || !draft.field ? null : choices ? (
        <Combobox
          label="Value"
          value={draft.text || null}
          choices={choices}
          className="field min-w-36 text-left"
          onChoose={(text) => onChange({ ...draft, text })}
          {...(type === 'source' ? { onCreate: (text: string) => onChange({ ...draft, text }) } : {})}
        >
          {draft.text || 'choose'}
        </Combobox>
      ) : type === 'yesNo' ? (
        <select
          className="field"
          aria-label="Value"
          value={draft.text}
          onChange={(event) => onChange({ ...draft, text: event.target.value })}
        >
          <option value="">choose</option>
          <option value="yes">yes</option>
          <option value="no">no</option>
        </select>
      ) : (
        <input
          className="field w-56"
          aria-label="Value"
          value={draft.text}
          onChange={(event) => onChange({ ...draft, text: event.target.value })}
        />
      )}
    </div>
  );
}
