import { useMutation } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { allOf, isGroup, isOneOf, sayCondition, type Condition, type Group } from '@gray-loom/core/segments';
import type { ContactKind } from '@gray-loom/core/model';
import type { LabelCount, Lists } from '@gray-loom/wire';
import { api } from '../../app/api';
import { useTouch } from '../../app/keys';
import { conditionIn, whereText } from '../../app/where';
import { Button, Fault } from '../../ui/controls';
import { Combobox } from '../../ui/combobox';
import { Modal } from '../../ui/modal';
import { count } from '../../ui/when';
import { ConditionBuilder } from '../segments/condition-builder';
import { useKnown, type Known } from '../segments/names';
import { fieldChoices, newTest } from '../segments/operators';
import { saidSoFar, useLook } from '../segments/use-look';
import { RecordKinds } from './record-kinds';

interface FilterLineProps {
  params: URLSearchParams;
  set: (changes: Record<string, string | null>) => void;
  lists: Lists | undefined;
  /** What can be done with all that is listed. */
  children: ReactNode;
}

/** The values that are asked for most, each with how many have it. */
function valueChoices(lists: Lists | undefined, who: 'people' | 'organizations') {
  const counted = (field: string, group: string, items: LabelCount[] = []) =>
    items.map((item) => ({ value: `${field}:${item.label}`, text: item.label, group, hint: count(item[who]) }));
  return [
    ...(lists?.stages ?? []).map((stage) => ({
      value: `stage:${stage.label}`,
      text: stage.label,
      group: 'Stage is',
      hint: stage.meaning,
    })),
    ...counted('tags', 'Tag is', lists?.tags),
    ...counted('@area', 'Area is', lists?.areas),
    ...counted('source', 'Source is', lists?.sources),
    ...counted('owner', 'Owner is', lists?.owners),
    { value: 'deleted:true', text: 'deleted', group: 'Is' },
  ];
}

/** What narrows the list, in words: each condition can be taken away, changed with the others, and all be kept as a segment. */
export function FilterLine({ params, set, lists, children }: FilterLineProps) {
  const known = useKnown();
  const [building, setBuilding] = useState<Group | null>(null);
  const [keeping, setKeeping] = useState(false);
  const kind: ContactKind = params.get('kind') === 'organization' ? 'organization' : 'person';
  const condition = conditionIn(params);
  const all = isGroup(condition) && condition.join === 'all' ? condition : { join: 'all' as const, of: [condition] };
  const setAll = (of: Condition[]) => set({ where: whereText({ join: 'all', of }) });
  const find = params.get('find');
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5 border-b border-hair px-3.5 py-2">
      <h1 className="sr-only">Contacts</h1>
      <RecordKinds current={kind === 'organization' ? 'organizations' : 'people'} lists={lists} />
      {find ? (
        <Chip
          words={<>has {<strong className="font-semibold">{find}</strong>}</>}
          name={`has ${find}`}
          onRemove={() => set({ find: null })}
        />
      ) : null}
      {all.of.map((one, at) => {
        const words = sayCondition(one, known);
        return (
          <Chip
            key={at}
            words={words}
            name={words}
            onOpen={() => setBuilding(all)}
            onRemove={() => setAll(all.of.filter((_, i) => i !== at))}
          />
        );
      })}
      {params.get('deleted') ? (
        <Chip words="deleted" name="is deleted" onRemove={() => set({ deleted: null })} />
      ) : null}
      <Combobox
        label="Add a condition"
        value={null}
        choices={[
          ...valueChoices(lists, kind === 'organization' ? 'organizations' : 'people'),
          ...fieldChoices(known).map((one) => ({
            ...one,
            value: `?${one.value}`,
            group: 'Something else about',
            hint: '',
          })),
        ]}
        className="text-ink2 hover:text-ink"
        onChoose={(value) => {
          if (value.startsWith('?'))
            return setBuilding({ join: 'all', of: [...all.of, newTest(value.slice(1), known)] });
          const at = value.indexOf(':');
          const [field, label] = [value.slice(0, at), value.slice(at + 1)];
          if (field === 'deleted') return set({ deleted: 'true' });
          setAll([...all.of, isOneOf(field, label)]);
        }}
      >
        + condition
      </Combobox>
      {all.of.length ? (
        <Button kind="quiet" needs="editor" className="text-ink2" onClick={() => setKeeping(true)}>
          Save as segment
        </Button>
      ) : null}
      <span className="ml-auto flex gap-4">{children}</span>
      {building ? (
        <BuildFilter
          first={building}
          kind={kind}
          known={known}
          onApply={(next) => {
            set({ where: whereText(next) });
            setBuilding(null);
          }}
          onClose={() => setBuilding(null)}
        />
      ) : null}
      {keeping ? (
        <KeepAsSegment
          condition={allOf(all, find ? { field: '@find', op: 'contains', value: find } : null)}
          kind={kind}
          known={known}
          onClose={() => setKeeping(false)}
        />
      ) : null}
    </div>
  );
}

interface ChipProps {
  words: ReactNode;
  name: string;
  onOpen?: () => void;
  onRemove: () => void;
}

function Chip({ words, name, onOpen, onRemove }: ChipProps) {
  return (
    <span className="inline-flex max-w-96 items-center rounded-loom border border-strong bg-page">
      {onOpen ? (
        <button type="button" className="truncate py-0.5 pl-2 hover:underline" title={name} onClick={onOpen}>
          {words}
        </button>
      ) : (
        <span className="truncate py-0.5 pl-2">{words}</span>
      )}
      <button
        type="button"
        aria-label={`Take away: ${name}`}
        className="px-2 text-ink3 hover:text-ink"
        onClick={onRemove}
      >
        ×
      </button>
    </span>
  );
}

interface BuildFilterProps {
  first: Group;
  kind: ContactKind;
  known: Known;
  onApply: (condition: Group) => void;
  onClose: () => void;
}

/** The conditions of a list, all of them, with how many fit while one changes them. */
function BuildFilter({ first, kind, known, onApply, onClose }: BuildFilterProps) {
  const [condition, setCondition] = useState(first);
  const { isWhole } = saidSoFar(condition);
  const look = useLook({ condition, kind });
  return (
    <Modal title="Which contacts" width={820} onClose={onClose}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (isWhole) onApply(condition);
        }}
      >
        <ConditionBuilder
          condition={condition}
          known={known}
          counts={look.counts}
          isEstimate={look.isEstimate}
          onChange={setCondition}
        />
        <Fault error={look.error} />
        <div className="mt-4 flex items-center gap-3">
          <Button kind="action" type="submit" disabled={!isWhole}>
            Show these
          </Button>
          <span className="text-ink2" aria-live="polite">
            {look.data ? `${look.isEstimate ? 'about ' : ''}${count(look.data.total)}` : ''}
            {look.isCounting ? ' · counting' : ''}
            {isWhole ? '' : ' · a condition has nothing to compare with yet'}
          </span>
        </div>
      </form>
    </Modal>
  );
}

interface KeepProps {
  condition: Condition;
  kind: ContactKind;
  known: Known;
  onClose: () => void;
}

function KeepAsSegment({ condition, kind, known, onClose }: KeepProps) {
  const [name, setName] = useState('');
  const navigate = useNavigate();
  const touch = useTouch();
  const keep = useMutation({
    mutationFn: () => api.post<{ id: number }>('/segments', { name, kind, condition }),
    onSuccess: async ({ id }) => {
      await touch('segments');
      await navigate(`/segments/${id}`);
    },
  });
  return (
    <Modal title="Save as segment" onClose={onClose}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate();
        }}
      >
        <p className="text-ink2">{sayCondition(condition, known)}</p>
        <label className="mt-3 flex items-center gap-2">
          <span>Name</span>
          <input
            className="field flex-1"
            value={name}
            maxLength={80}
            autoFocus
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <Fault error={keep.error} />
        <div className="mt-4">
          <Button kind="action" type="submit" busy={keep.isPending} disabled={!name.trim()}>
            Keep the segment
          </Button>
        </div>
      </form>
    </Modal>
  );
}
