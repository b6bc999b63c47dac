import type { ConnectionDetail, Lists, Scope } from '@gray-loom/wire';
import { EVERYBODY, sayCondition } from '@gray-loom/core/segments';
import { Button } from '../../ui/controls';
import { ConditionBuilder } from '../segments/condition-builder';
import { useKnown } from '../segments/names';
import { groupOf } from '../segments/drafts';

const KINDS: [Scope['who']['kind'], string][] = [
  ['everybody', 'everybody'],
  ['labelThere', 'whoever has a label over there'],
  ['condition', 'whoever meets conditions here'],
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
  const known = useKnown();
  const options = (list: readonly string[]) => list.map((text) => <option key={text}>{text}</option>);
  return (
    <div>
      <ul>
        {scopes.map((scope) => {
          const { who } = scope;
          const labels = who.kind === 'labelThere' ? data.capabilities.knownLabels : null;
          const value = who.kind === 'labelThere' ? who.label : '';
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
                      : kind === 'condition'
                        ? { kind, condition: EVERYBODY, words: 'everybody' }
                        : kind === 'byHand'
                          ? { kind }
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
              {labels && who.kind === 'labelThere' ? (
                <select
                  className="field max-w-44"
                  aria-label="Which"
                  value={value}
                  onChange={(event) => set(scope.id, { who: { ...who, label: event.target.value } })}
                >
                  {labels.includes(value) ? null : <option value={value}>{value || 'choose'}</option>}
                  {options(labels)}
                </select>
              ) : null}
              {who.kind === 'condition' ? (
                <div className="w-full border-y border-hair bg-cloth px-3 py-1">
                  <ConditionBuilder
                    condition={groupOf(who.condition)}
                    known={known}
                    onChange={(condition) =>
                      set(scope.id, {
                        who: { ...who, condition, words: sayCondition(condition, known).slice(0, 1000) },
                      })
                    }
                  />
                </div>
              ) : null}
              {who.kind === 'byHand' ? null : (
                <label className="flex items-center gap-1.5">
                  <input
                    type="checkbox"
                    checked={scope.andSent ?? false}
                    onChange={(event) => set(scope.id, { andSent: event.target.checked })}
                  />
                  and is sent by hand
                </label>
              )}
              <select
                className="field"
                aria-label="What happens to values that are there"
                value={scope.rule ?? ''}
                onChange={(event) => {
                  const { rule: _, ...others } = scope;
                  const rule = event.target.value as NonNullable<Scope['rule']> | '';
                  onChange(scopes.map((one) => (one.id === scope.id ? { ...others, ...(rule ? { rule } : {}) } : one)));
                }}
              >
                <option value="">by the rule of each line</option>
                <option value="ask">asks</option>
                <option value="newest">newest wins</option>
                <option value="replace">replaces</option>
                <option value="fill">fills blanks</option>
              </select>
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
