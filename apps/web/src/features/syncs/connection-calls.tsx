import { useMutation, useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { Calls, ConnectionDetail } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { Button, Failed, Fault, Heading, Loading } from '../../ui/controls';
import { count, When } from '../../ui/when';

const KINDS: Record<string, string> = {
  records: 'People changed',
  pushed: 'Sent over by hand',
  results: 'Something came back',
};

/** Calls of a tool that signs them: whether it was told to call, what it said, and what was not believed. */
export function ConnectionCalls({ connection: { id, name, state } }: { connection: ConnectionDetail }) {
  const touch = useTouch();
  const calls = useQuery({ queryKey: keys.calls(id), queryFn: () => api.get<Calls>(`/connections/${id}/calls`) });
  const tell = useMutation({
    mutationFn: (origin: string | null) => api.put<Calls>(`/connections/${id}/hook`, { origin }),
    onSettled: () => touch('syncs'),
  });
  if (calls.isPending) return <Loading what="its calls" />;
  if (calls.isLoadingError) return <Failed error={calls.error} retry={() => void calls.refetch()} />;
  const { url, falseCount, lastFalse, lastFalseAt, waiting, calls: kept } = calls.data;
  return (
    <section aria-label="Calls from over there">
      <Heading aside={waiting ? `${count(waiting)} wait to be worked` : 'all worked'}>Calls from over there</Heading>
      <Fault error={tell.error} onClose={() => tell.reset()} />
      <div className="flex flex-wrap items-center gap-3 py-2">
        {url ? (
          <>
            <span>
              {name} calls <code className="font-mono text-[12px] break-all">{url}</code>, and signs what it says.
            </span>
            <Button kind="quiet" busy={tell.isPending} onClick={() => tell.mutate(null)}>
              No more
            </Button>
          </>
        ) : (
          <>
            <span className="text-ink2">
              {name} can call here at once when somebody changes there, is sent over, or was called.
            </span>
            <Button busy={tell.isPending} onClick={() => tell.mutate(window.location.origin)}>
              Have it call
            </Button>
          </>
        )}
      </div>
      {url && state !== 'on' ? (
        <p className="border-l-2 border-ink bg-cloth px-3 py-1.5">
          What it says is kept, and worked once the connection runs by a timetable or when it is called.
        </p>
      ) : null}
      {falseCount ? (
        <p className="py-1 text-alarm">
          {count(falseCount)} {falseCount === 1 ? 'call was' : 'calls were'} not believed and dropped; the last{' '}
          {lastFalseAt ? <When at={lastFalseAt} /> : null}: {lastFalse}
        </p>
      ) : null}
      <ul>
        {kept.map((call) => (
          <li key={call.id} className="border-b border-hair py-1">
            <details>
              <summary className="flex cursor-pointer items-baseline gap-3">
                <span className="w-16 shrink-0 text-ink2">
                  <When at={call.at} />
                </span>
                <span className="flex-1">{KINDS[call.kind] ?? call.kind}</span>
                {call.runId ? (
                  <Link className="link" to={`/ledger/${call.runId}`}>
                    Its run
                  </Link>
                ) : (
                  <span className="text-ink2">waits</span>
                )}
              </summary>
              <pre className="mt-1 overflow-x-auto bg-cloth px-2 py-1 font-mono text-[12px]">{call.body}</pre>
            </details>
          </li>
        ))}
        {kept.length ? null : <li className="py-2 text-ink2">It never called.</li>}
      </ul>
    </section>
  );
}
