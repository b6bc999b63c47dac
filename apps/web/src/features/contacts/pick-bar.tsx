import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { allOf } from '@gray-loom/core/segments';
import { calledInWords, MOST_CALLED_NEXT, type CalledNext } from '@gray-loom/wire';
import { api } from '../../app/api';
import { conditionIn, whereText } from '../../app/where';
import { useShortcut } from '../../app/keyboard';
import { useMay } from '../../app/may';
import { Button } from '../../ui/controls';
import { count } from '../../ui/when';
import { BatchDialog } from '../batch/batch-dialog';
import { useKnown } from '../segments/names';
import { peopleInWords } from '../people/hand-over';
import { conditionOfPicks, NO_PICKS, pickedOf, whatOf, type Picks } from './use-picks';

interface PickBarProps {
  picks: Picks;
  total: number;
  /** The filter of the list. */
  query: string;
  error: Error | null;
  onPicks: (picks: Picks) => void;
}

/** Puts those who are picked at the head of whom a tool calls, where there is such a tool. */
function CallNext({ picks, query }: { picks: Picks; query: string }) {
  const callers = useKnown().choices?.connections.filter(({ canCallNext }) => canCallNext) ?? [];
  const call = useMutation({
    mutationFn: (connectionId: number) =>
      api.post<CalledNext>('/batch/next', { what: whatOf(picks, query), connectionId }),
  });
  const tooMany = picks.ids.size > MOST_CALLED_NEXT;
  return (
    <>
      {callers.map(({ id, name }) => (
        <Button
          key={id}
          kind="quiet"
          busy={call.isPending}
          disabled={tooMany}
          title={tooMany ? `At most ${MOST_CALLED_NEXT} at once` : undefined}
          onClick={() => call.mutate(id)}
        >
          Call next{callers.length > 1 ? `, ${name}` : ''}
        </Button>
      ))}
      {call.data ? <span role="status">{calledInWords(call.data)}</span> : null}
      {call.error ? (
        <span role="alert" className="text-alarm">
          {call.error.message}
        </span>
      ) : null}
    </>
  );
}

/** What can be done with those who are picked. */
export function PickBar({ picks, total, query, error, onPicks }: PickBarProps) {
  const [changing, setChanging] = useState(false);
  const mayEdit = useMay('editor');
  const n = pickedOf(picks, total);
  const params = new URLSearchParams(query);
  const kind = params.get('kind') === 'organization' ? 'organization' : 'person';
  useShortcut('c', 'Change those who are picked', 'Contacts', () => setChanging(true), {
    enabled: n > 0,
    needs: 'editor',
  });
  useShortcut('Escape', 'Pick nobody', 'Contacts', () => onPicks(NO_PICKS), { enabled: n > 0 && !changing });
  if (!n && !error) return null;
  const named = conditionOfPicks(picks);
  const exported = new URLSearchParams(params);
  if (named) exported.set('where', whereText(allOf(conditionIn(params), named)));
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-strong bg-picked px-3.5 py-1.5">
      <span role="status">
        <strong className="font-semibold tabular-nums">{count(n)}</strong> picked
        {picks.isAll ? `, all${picks.ids.size ? ` but ${count(picks.ids.size)}` : ''} of this list` : ''}
      </span>
      {mayEdit ? (
        <Button kind="action" keys="c" onClick={() => setChanging(true)}>
          Change
        </Button>
      ) : null}
      {mayEdit && !picks.isAll ? (
        <CallNext key={[...picks.ids].slice(0, MOST_CALLED_NEXT + 1).join()} picks={picks} query={query} />
      ) : null}
      {named ? (
        <a className="link" href={`/api/contacts.csv?${exported.toString()}`} download>
          Table (CSV)
        </a>
      ) : null}
      {picks.isAll ? null : (
        <Button kind="quiet" onClick={() => onPicks({ isAll: true, ids: new Set() })}>
          Pick all {count(total)}
        </Button>
      )}
      <Button kind="quiet" onClick={() => onPicks(NO_PICKS)}>
        Pick nobody
      </Button>
      {error ? (
        <span role="alert" className="text-alarm">
          {error.message}
        </span>
      ) : null}
      {changing ? (
        <BatchDialog
          what={whatOf(picks, query)}
          words={peopleInWords(n, kind)}
          areDeleted={params.get('deleted') === 'true'}
          onClose={() => setChanging(false)}
          onDone={() => {
            setChanging(false);
            onPicks(NO_PICKS);
          }}
        />
      ) : null}
    </div>
  );
}
