import { useMutation, useQuery } from '@tanstack/react-query';
import type { FeedReader } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { Button, Failed, Fault, Loading } from '../../ui/controls';
import { count, When } from '../../ui/when';

/** What goes on by itself whenever contacts change, and whether anything stands in its way. */
export function UpkeepPage() {
  const touch = useTouch();
  const readers = useQuery({
    queryKey: keys.feedReaders(),
    queryFn: () => api.get<FeedReader[]>('/feed/readers'),
    refetchInterval: 5000,
  });
  const again = useMutation({
    mutationFn: (name: string) => api.post(`/feed/readers/${encodeURIComponent(name)}/retry`),
    onSettled: () => touch('setup'),
  });
  if (readers.isPending) return <Loading what="what goes on by itself" />;
  if (readers.isLoadingError) return <Failed error={readers.error} retry={() => void readers.refetch()} />;
  return (
    <div className="h-full overflow-y-auto px-5 py-4">
      <div className="max-w-2xl">
        <h2 className="text-[15.5px] font-bold">Upkeep</h2>
        <p className="mt-1 mb-3 text-ink2">
          Every change of a contact is passed on, in order, to whoever has to know of it. Each goes on where it was; one
          that fails is tried again, and holds up nobody else.
        </p>
        <Fault error={again.error} onClose={() => again.reset()} />
        <ul aria-label="Who is told of changes" className="border-t border-strong">
          {readers.data.map(({ name, sentence, behind, error, failingSince, nextTryAt }) => (
            <li key={name} className="flex items-start gap-4 border-b border-hair py-2">
              <div className="min-w-0 flex-1">
                <p>{sentence}</p>
                {error ? (
                  <p className="text-alarm">
                    Fails for <When at={failingSince ?? ''} /> (code {error}). The log of the worker has where.
                    {nextTryAt ? ' It is tried again by itself.' : ''}
                  </p>
                ) : null}
              </div>
              <span className="shrink-0 text-[12.5px] text-ink2">
                {behind ? `${count(behind)} ${behind === 1 ? 'write' : 'writes'} to read` : 'up to date'}
              </span>
              {error ? (
                <Button needs="administrator" busy={again.isPending} onClick={() => again.mutate(name)}>
                  Try now
                </Button>
              ) : null}
            </li>
          ))}
        </ul>
      </div>
    </div>
  );
}
