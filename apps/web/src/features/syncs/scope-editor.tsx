import type { ConnectionDetail, Lists, Scope } from '@gray-loom/wire';
import { Button } from '../../ui/controls';

const KINDS: [Scope['who']['kind'], string][] = [
  ['everybody', 'everybody'],
  ['labelThere', 'whoever has a label over there'],
  ['tag', 'whoever has a tag here'],
  ['stage', 'whoever is in a stage here'],
  ['filter', 'whoever meets a filter here'],
  ['byHand', 'whoever is sent by hand'],
];

interface ScopeEditorProps {
  scopes: Scope[];
  data: ConnectionDetail;
  lists: Lists | undefined;
  onChange: (scopes: Scope[]) => void;
}

/** Who takes part, and what somebody who comes in is given; the first that fits counts. */
export function ScopeEditor({ scopes, data, lists, onChange }: ScopeEditorProps) {
  const set = (id: string, change: Partial<Scope>) =>
    onChange(scopes.map((scope) => (scope.id === id ? { ...scope, ...change } : scope)));
  const give = (scope: Scope, change: Partial<Scope['give']>) => set(scope.id, { give: { ...scope.give, ...change } });
  const options = (list: readonly string[]) => list.map((text) => <option key={text}>{text}</option>);
  return (
    <div>
      <ul>
        {scopes.map((scope) => {
          const { who } = scope;
          const value =
            who.kind === 'labelThere'
              ? who.label
              : who.kind === 'tag'
                ? who.tag
                : who.kind === 'stage'
                  ? who.stage
                  : '';
          const choices =
            who.kind === 'labelThere'
              ? data.capabilities.knownLabels
              : who.kind === 'tag'
                ? (lists?.tags ?? [])
                : who.kind === 'stage'
                  ? (lists?.stages ?? [])
                  : null;
          return (
            <li key={scope.id} className="flex flex-wrap items-center gap-2 border-b border-hair py-1.5">
              <select
                className="field"
                aria-label="Who takes part"
                value={who.kind}
                onChange={(event) => {
                  const kind = event.target.value as Scope['who']['kind'];
                  const made: Scope['who'] =
                    kind === 'labelThere'
                      ? { kind, label: data.capabilities.knownLabels[0] ?? '' }
                      : kind === 'tag'
                        ? { kind, tag: textOf(lists?.tags)[0] ?? '' }
                        : kind === 'stage'
                          ? { kind, stage: textOf(lists?.stages)[0] ?? '' }
                          : kind === 'byHand'
                            ? { kind }
                            : kind === 'filter'
                              ? filterOf({})
                              : { kind: 'everybody' };
                  set(scope.id, { who: made });
                }}
              >
                {KINDS.map(([kind, words]) => (
                  <option key={kind} value={kind}>
                    {words}
                  </option>
                ))}
              </select>
              {choices ? (
                <select
                  className="field max-w-44"
                  aria-label="Which"
                  value={value}
                  onChange={(event) => {
                    const text = event.target.value;
                    if (who.kind === 'labelThere') set(scope.id, { who: { ...who, label: text } });
                    if (who.kind === 'tag') set(scope.id, { who: { ...who, tag: text } });
                    if (who.kind === 'stage') set(scope.id, { who: { ...who, stage: text } });
                  }}
                >
                  {textOf(choices).includes(value) ? null : <option value={value}>{value || 'choose'}</option>}
                  {options(textOf(choices))}
                </select>
              ) : null}
              {who.kind === 'filter' ? (
                <FilterBoxes
                  filter={who.filter}
                  lists={lists}
                  onChange={(filter) => set(scope.id, { who: filterOf(filter) })}
                />
              ) : null}
              <span className="text-ink2">gets</span>
              <select
                className="field max-w-36"
                aria-label="Tag that is given"
                value={scope.give.tags[0] ?? ''}
                onChange={(event) => give(scope, { tags: event.target.value ? [event.target.value] : [] })}
              >
                <option value="">no tag</option>
                {options(textOf(lists?.tags))}
              </select>
              <select
                className="field max-w-36"
                aria-label="Source that is given"
                value={scope.give.source}
                onChange={(event) => give(scope, { source: event.target.value })}
              >
                <option value="">no source</option>
                {options(textOf(lists?.sources))}
              </select>
              <select
                className="field max-w-36"
                aria-label="Stage that is given"
                value={scope.give.stage}
                onChange={(event) => give(scope, { stage: event.target.value })}
              >
                <option value="">no stage</option>
                {options(textOf(lists?.stages))}
              </select>
              <select
                className="field max-w-36"
                aria-label="Owner that is given"
                value={scope.give.owner}
                onChange={(event) => give(scope, { owner: event.target.value })}
              >
                <option value="">no owner</option>
                {options(textOf(lists?.owners))}
              </select>
              {scopes.length > 1 ? (
                <button
                  type="button"
                  className="ml-auto px-1 text-ink3 hover:text-ink"
                  aria-label="Take this out"
                  onClick={() => onChange(scopes.filter(({ id }) => id !== scope.id))}
                >
                  ×
                </button>
              ) : null}
            </li>
          );
        })}
      </ul>
      <Button
        kind="quiet"
        className="mt-1 text-ink2"
        onClick={() =>
          onChange([
            ...scopes,
            {
              id: `scope-${Date.now().toString(36)}`,
              who: { kind: 'byHand' },
              give: { tags: [], source: '', owner: '', stage: '' },
            },
          ])
        }
      >
        + others
      </Button>
    </div>
  );
}

function textOf(list: readonly (string | { label: string })[] | undefined): string[] {
  return (list ?? []).map((one) => (typeof one === 'string' ? one : one.label));
}

/** A filter of contacts as conditions in words; all of them have to hold. */
function filterOf(filter: Record<string, unknown>): Extract<Scope['who'], { kind: 'filter' }> {
  const said = Object.entries(filter).flatMap(([key, value]) => (value ? [`${key} is ${String(value)}`] : []));
  return { kind: 'filter', filter, words: said.join(', ') || 'anything' };
}

function FilterBoxes({
  filter,
  lists,
  onChange,
}: {
  filter: Record<string, unknown>;
  lists: Lists | undefined;
  onChange: (filter: Record<string, unknown>) => void;
}) {
  const boxes: [key: string, none: string, choices: string[]][] = [
    ['source', 'any source', textOf(lists?.sources)],
    ['owner', 'any owner', textOf(lists?.owners)],
    ['area', 'any area', textOf(lists?.areas)],
    ['tag', 'any tag', textOf(lists?.tags)],
  ];
  return boxes.map(([key, none, choices]) => (
    <select
      key={key}
      className="field max-w-32"
      aria-label={`Filter by ${key}`}
      value={String(filter[key] ?? '')}
      onChange={(event) => {
        const { [key]: _old, ...rest } = filter;
        onChange(event.target.value ? { ...rest, [key]: event.target.value } : rest);
      }}
    >
      <option value="">{none}</option>
      {choices.map((text) => (
        <option key={text}>{text}</option>
      ))}
    </select>
  ));
}
