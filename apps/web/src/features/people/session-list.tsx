import { useMutation, useQuery } from '@tanstack/react-query';
import type { OwnSession } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { Button, Failed, Fault, Loading } from '../../ui/controls';
import { exactly, When } from '../../ui/when';
import { browserName } from './browser-name';

/** Where an account is signed in, each with a way to end it. `at` is the address of the list. */
export function SessionList({ at }: { at: string }) {
  const touch = useTouch();
  const sessions = useQuery({ queryKey: keys.accountSessions(at), queryFn: () => api.get<OwnSession[]>(at) });
  const end = useMutation({ mutationFn: (id: number) => api.delete(`${at}/${id}`), onSettled: () => touch('setup') });
  if (sessions.isPending) return <Loading what="the sessions" />;
  if (sessions.isLoadingError) return <Failed error={sessions.error} retry={() => void sessions.refetch()} />;
  if (!sessions.data.length) return <p className="py-1 text-ink2">Signed in nowhere.</p>;
  return (
    <>
      <Fault error={end.error} onClose={() => end.reset()} />
      <ul>
        {sessions.data.map((one) => (
          <li key={one.id} className="flex items-baseline gap-3 border-b border-hair py-1.5">
            <span className="min-w-0 flex-1">
              <span className="block truncate" title={one.browser}>
                {browserName(one.browser)}
                {one.address ? <span className="text-ink2"> · {one.address}</span> : null}
              </span>
              <span className="block text-[12.5px] text-ink2">
                since {exactly(one.openedAt)}, last used <When at={one.seenAt} /> ago
              </span>
            </span>
            {one.isThis ? (
              <strong className="font-semibold">this one</strong>
            ) : (
              <Button busy={end.isPending && end.variables === one.id} onClick={() => end.mutate(one.id)}>
                End it
              </Button>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}
