import { Popover } from 'radix-ui';
import { useState } from 'react';
import { GIVE_BY, type GiveBy, type Lists } from '@gray-loom/wire';
import { GIVE_WORDS } from '../people/hand-over';
import { ACTIVITY_KINDS, type ActivityKind } from '@gray-loom/core/activity';
import { nameOfKinds } from '../activity/activity-words';
import { isActivityTarget, isOpportunityTarget, type Mapping, type Recogniser } from '@gray-loom/core/mapping';
import { ConsentFields, lackingOf } from './consent-fields';
import { Button } from '../../ui/controls';
import { NearMisses } from '../../ui/near-misses';
import { RULE_WORDS } from './column-head';

const RECOGNISED_BY: { value: Recogniser; text: string }[] = [
  { value: 'externalId', text: 'outside id' },
  { value: 'email', text: 'e-mail' },
  { value: 'tel', text: 'phone and name' },
  { value: 'name', text: 'name with place or birthday' },
  { value: 'engine', text: 'all that Duplicates goes by; the likely are held' },
];

function inWords({ wholeFile, allowNew, allowChange, writeRule }: Mapping): string {
  const extras = [
    wholeFile.tags.length ? `${wholeFile.tags.length} ${wholeFile.tags.length === 1 ? 'tag' : 'tags'}` : '',
    wholeFile.source ? 'source' : '',
    wholeFile.stage ? 'stage' : '',
    wholeFile.owner ? 'owner' : '',
    wholeFile.give ? 'given out' : '',
    wholeFile.segment ? 'segment' : '',
    wholeFile.consent ? 'permission' : '',
  ].filter(Boolean);
  const may =
    allowNew && allowChange
      ? RULE_WORDS[writeRule]
      : allowNew
        ? 'new people only'
        : allowChange
          ? 'people here only'
          : 'nothing may happen';
  return [may, ...extras].join(', ');
}

const split = (tags: string) =>
  tags
    .split(';')
    .map((tag) => tag.trim())
    .filter(Boolean);

/** Under a line of the settings: whether what is typed is here, under another spelling or not at all. */
function Near({
  typed,
  values,
  what,
  onChoose,
}: {
  typed: string;
  values: { label: string }[] | undefined;
  what: string;
  onChoose: (label: string) => void;
}) {
  if (!values) return null;
  const labels = values.map(({ label }) => label);
  return (
    <div className="col-start-2 empty:hidden">
      <NearMisses typed={typed} labels={labels} what={what} onChoose={onChoose} />
    </div>
  );
}

/** What holds for the whole file: tags, source, stage, and what it may do. */
export function FileSettings({
  mapping,
  lists,
  headers,
  locked,
  onSave,
}: {
  mapping: Mapping;
  lists: Lists | undefined;
  headers: readonly (string | null)[];
  locked: boolean;
  onSave: (mapping: Mapping) => void;
}) {
  const [open, setOpen] = useState(false);
  const [draft, setDraft] = useState(mapping);
  const [tags, setTags] = useState(mapping.wholeFile.tags.join('; '));
  const set = (changes: Partial<Mapping>) => setDraft({ ...draft, ...changes });
  const whole = (changes: Partial<Mapping['wholeFile']>) => set({ wholeFile: { ...draft.wholeFile, ...changes } });
  const lacking = lackingOf(draft.wholeFile.consent ?? null);
  return (
    <Popover.Root
      open={open}
      onOpenChange={(next) => {
        if (next) {
          setDraft(mapping);
          setTags(mapping.wholeFile.tags.join('; '));
        }
        setOpen(next);
      }}
    >
      <Popover.Trigger asChild>
        <Button>Whole file: {inWords(mapping)}</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={4}
          className="z-40 max-h-[80vh] w-104 overflow-y-auto border border-strong bg-page p-4"
          aria-label="Whole file"
        >
          <fieldset disabled={locked} className="grid grid-cols-[92px_minmax(0,1fr)] items-baseline gap-x-3 gap-y-2">
            <label className="contents">
              <span className="text-ink2">Tags</span>
              <input
                className="field min-w-0"
                value={tags}
                placeholder="regatta; bursary"
                onChange={(event) => setTags(event.target.value)}
              />
            </label>
            {split(tags).map((tag) => (
              <Near
                key={tag}
                typed={tag}
                values={lists?.tags}
                what="tag"
                onChoose={(label) =>
                  setTags(
                    split(tags)
                      .map((one) => (one === tag ? label : one))
                      .join('; '),
                  )
                }
              />
            ))}
            <label className="contents">
              <span className="text-ink2">Source</span>
              <input
                className="field min-w-0"
                list="file-sources"
                value={draft.wholeFile.source ?? ''}
                onChange={(event) => whole({ source: event.target.value || null })}
              />
            </label>
            <Near
              typed={draft.wholeFile.source ?? ''}
              values={lists?.sources}
              what="source"
              onChoose={(source) => whole({ source })}
            />
            <datalist id="file-sources">
              {lists?.sources.map((source) => (
                <option key={source.label} value={source.label} />
              ))}
            </datalist>
            <label className="contents">
              <span className="text-ink2">Stage</span>
              <select
                className="field min-w-0"
                value={draft.wholeFile.stage ?? ''}
                onChange={(event) => whole({ stage: event.target.value || null })}
              >
                <option value="">as the file says, or none</option>
                {lists?.stages.map((stage) => (
                  <option key={stage.label}>{stage.label}</option>
                ))}
              </select>
            </label>
            <label className="contents">
              <span className="text-ink2">Owner</span>
              <input
                className="field min-w-0"
                list="file-owners"
                maxLength={80}
                value={draft.wholeFile.owner ?? ''}
                onChange={(event) => whole({ owner: event.target.value || null })}
              />
            </label>
            <label className="contents">
              <span className="text-ink2">No owner</span>
              <select
                aria-label="New people without an owner"
                className="field min-w-0"
                value={draft.wholeFile.give ?? ''}
                onChange={(event) => whole({ give: (event.target.value || undefined) as GiveBy | undefined })}
              >
                <option value="">new people stay without one</option>
                {GIVE_BY.map((by) => (
                  <option key={by} value={by}>
                    new people are {GIVE_WORDS[by]}
                  </option>
                ))}
              </select>
            </label>
            <label className="contents">
              <span className="text-ink2">Segment</span>
              <input
                aria-label="Segment that finds everybody of this file"
                className="field min-w-0"
                placeholder="none; a name keeps one that finds them for ever"
                maxLength={80}
                value={draft.wholeFile.segment ?? ''}
                onChange={(event) => whole({ segment: event.target.value })}
              />
            </label>
            <datalist id="file-owners">
              {lists?.owners.map((owner) => (
                <option key={owner.label} value={owner.label} />
              ))}
            </datalist>
            <span className="text-ink2">The file may</span>
            <div className="space-y-1">
              <label className="flex gap-2">
                <input
                  type="checkbox"
                  checked={draft.allowNew}
                  onChange={(event) => set({ allowNew: event.target.checked })}
                />{' '}
                bring new people
              </label>
              <label className="flex gap-2">
                <input
                  type="checkbox"
                  checked={draft.allowChange}
                  onChange={(event) => set({ allowChange: event.target.checked })}
                />{' '}
                touch people who are here
              </label>
            </div>
            {draft.columns.some(({ target }) => isActivityTarget(target)) ? (
              <>
                <label htmlFor="activity-kind" className="text-ink2">
                  Entries of activity are
                </label>
                <select
                  id="activity-kind"
                  className="field"
                  value={draft.activityKind ?? 'purchase'}
                  onChange={(event) => set({ activityKind: event.target.value as ActivityKind })}
                >
                  {ACTIVITY_KINDS.map((kind) => (
                    <option key={kind} value={kind}>
                      {nameOfKinds(kind)}
                    </option>
                  ))}
                </select>
              </>
            ) : null}
            {draft.columns.some(({ target }) => isOpportunityTarget(target)) ? (
              <>
                <span className="text-ink2">Opportunities</span>
                <div className="space-y-1">
                  {(
                    [
                      ['allowNew', 'bring new ones'],
                      ['allowChange', 'change those that are here'],
                    ] as const
                  ).map(([key, text]) => {
                    const may = draft.opportunities ?? { allowNew: true, allowChange: true };
                    return (
                      <label key={key} className="flex gap-2">
                        <input
                          type="checkbox"
                          checked={may[key]}
                          onChange={(event) => set({ opportunities: { ...may, [key]: event.target.checked } })}
                        />{' '}
                        {text}
                      </label>
                    );
                  })}
                </div>
              </>
            ) : null}
            <label className="contents">
              <span className="text-ink2">Their values</span>
              <select
                className="field min-w-0"
                value={draft.writeRule}
                disabled={!draft.allowChange}
                onChange={(event) => set({ writeRule: event.target.value as Mapping['writeRule'] })}
              >
                <option value="fill">stay; only blanks are filled</option>
                <option value="replace">are replaced by the file's</option>
                <option value="newest">stand or give way, whichever is newer</option>
                <option value="ask">stay; where the file says otherwise, I am asked</option>
              </select>
            </label>
            {[draft.writeRule, ...draft.columns.map(({ rule }) => rule)].includes('newest') ? (
              <label className="contents">
                <span className="text-ink2">Changed on</span>
                <select
                  className="field min-w-0"
                  aria-label="Column that says when a row was last changed"
                  value={draft.changedColumn ?? ''}
                  onChange={(event) =>
                    set({ changedColumn: event.target.value === '' ? null : Number(event.target.value) })
                  }
                >
                  <option value="">the day of this import</option>
                  {headers.map((header, i) => (
                    <option key={i} value={i}>
                      {header || `column ${i + 1}`}
                    </option>
                  ))}
                </select>
              </label>
            ) : null}
            <span className="text-ink2">Known by</span>
            <div className="space-y-1">
              {RECOGNISED_BY.map(({ value, text }) => (
                <label key={value} className="flex gap-2">
                  <input
                    type="checkbox"
                    checked={draft.recognise.includes(value)}
                    onChange={(event) =>
                      set({
                        recognise: RECOGNISED_BY.map((one) => one.value).filter((one) =>
                          one === value ? event.target.checked : draft.recognise.includes(one),
                        ),
                      })
                    }
                  />{' '}
                  {text}
                </label>
              ))}
            </div>
            <label className="contents">
              <span className="text-ink2">Phones of</span>
              <input
                className="field w-16 uppercase"
                maxLength={2}
                value={draft.country}
                onChange={(event) => set({ country: event.target.value.toUpperCase() })}
                aria-label="Country that national phone numbers are read in"
              />
            </label>
            <span className="text-ink2">Permission</span>
            <ConsentFields consent={draft.wholeFile.consent ?? null} onChange={(consent) => whole({ consent })} />
          </fieldset>
          {lacking ? <p className="mt-2 text-[12.5px] text-ink2">{lacking}</p> : null}
          <div className="mt-4 flex gap-2">
            <Button
              kind="action"
              disabled={locked || !/^[A-Z]{2}$/.test(draft.country) || !!lacking}
              onClick={() => {
                onSave({
                  ...draft,
                  wholeFile: {
                    ...draft.wholeFile,
                    tags: split(tags),
                  },
                });
                setOpen(false);
              }}
            >
              Keep
            </Button>
            <Button kind="quiet" onClick={() => setOpen(false)}>
              Cancel
            </Button>
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
