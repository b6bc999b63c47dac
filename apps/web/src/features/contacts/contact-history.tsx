import { keys } from '../../app/keys';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { HistoryEntry } from '@gray-loom/wire';
import { showValue, type FieldDefinition } from '@gray-loom/core/fields';
import { api } from '../../app/api';
import { Failed, Fault, Loading } from '../../ui/controls';
import { ThreadSwatch } from '../../ui/thread-swatch';
import { When } from '../../ui/when';

/** What happened to a contact, newest first, each change with its way back. */
export function ContactHistory({ id, fields }: { id: number; fields: readonly FieldDefinition[] }) {
  const client = useQueryClient();
  const history = useQuery({
    queryKey: keys.history(id),
    queryFn: () => api.get<HistoryEntry[]>(`/contacts/${id}/history`),
  });
  const undo = useMutation({
    mutationFn: (runId: number) => api.post(`/runs/${runId}/undo`),
    onSettled: () => client.invalidateQueries(),
  });
  if (history.isPending) return <Loading what="the history" />;
  if (history.isLoadingError) return <Failed error={history.error} retry={() => void history.refetch()} />;
  return (
    <section className="mt-5">
      <h3 className="border-b border-strong pb-1 font-semibold">History</h3>
      <Fault error={undo.error} onClose={() => undo.reset()} />
      <ol>
        {history.data.map((entry) => (
          <li
            key={`${entry.runId}:${entry.at}:${entry.sourceRow ?? ''}`}
            className={`flex items-baseline gap-2 border-b border-hair py-1 text-[13px] ${entry.undone ? 'text-ink3 line-through decoration-1' : ''}`}
          >
            <ThreadSwatch kind={entry.thread.kind} title={entry.thread.name} />
            <span className="min-w-0 flex-1">
              <EntryWords entry={entry} fields={fields} />
              <span className="text-ink2">
                {' · '}
                <Link to={`/ledger/${entry.runId}`} className="link">
                  {entry.thread.kind === 'hand' ? (entry.actor ?? 'by hand') : entry.thread.name}
                </Link>
                {' · '}
                <When at={entry.at} />
              </span>
            </span>
            {entry.undoable ? (
              <button
                type="button"
                className="link shrink-0"
                disabled={undo.isPending}
                onClick={() => undo.mutate(entry.runId)}
              >
                undo
              </button>
            ) : null}
          </li>
        ))}
      </ol>
    </section>
  );
}

const SHOWN = 4;

function EntryWords({ entry, fields }: { entry: HistoryEntry; fields: readonly FieldDefinition[] }) {
  if (!entry.changes)
    return (
      <>
        {entry.kind === 'create' ? 'Added by hand' : `Brought in${entry.sourceRow ? `, row ${entry.sourceRow}` : ''}`}
      </>
    );
  if (entry.kind === 'merge')
    return (
      <>{entry.changes.some((change) => change.field === 'lifecycle') ? entry.title : `${entry.title}, kept here`}</>
    );
  const words = entry.changes.filter((change) => !change.field.startsWith('also.'));
  const lifecycle = words.find((change) => change.field === 'lifecycle');
  if (lifecycle) return <>{lifecycle.after ? entry.title : 'Brought back'}</>;
  return (
    <>
      {words.slice(0, SHOWN).map((change, i) => {
        const name = fields.find((field) => field.key === change.field)?.name ?? change.field;
        return (
          <span key={i}>
            {i ? ', ' : ''}
            {name} {change.before ? <del className="text-ink3">{showValue(change.field, change.before)}</del> : null}
            {change.before && change.after ? ' → ' : ''}
            {change.after ? showValue(change.field, change.after) : ' removed'}
          </span>
        );
      })}
      {words.length > SHOWN ? ` and ${words.length - SHOWN} more` : ''}
    </>
  );
}
