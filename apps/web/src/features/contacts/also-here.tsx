import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { Looker } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys } from '../../app/keys';

/** A look counts for ninety seconds. */
const AGAIN_MS = 45_000;

/** Who else has this contact on screen, so that two do not work on one at once. */
export function AlsoHere({ id }: { id: number }) {
  const client = useQueryClient();
  const others = useQuery({
    queryKey: keys.lookers(id),
    queryFn: () => api.post<Looker[]>(`/contacts/${id}/look`),
    refetchInterval: AGAIN_MS,
    refetchOnWindowFocus: true,
    retry: false,
  });
  useEffect(() => {
    const leave = () => void fetch(`/api/contacts/${id}/look`, { method: 'DELETE', keepalive: true }).catch(() => null);
    // A tab that is closed, or one that somebody left for another, shows the contact to nobody.
    const onSight = () => {
      if (document.visibilityState === 'hidden') leave();
      else void client.invalidateQueries({ queryKey: keys.lookers(id) });
    };
    window.addEventListener('pagehide', leave);
    document.addEventListener('visibilitychange', onSight);
    return () => {
      window.removeEventListener('pagehide', leave);
      document.removeEventListener('visibilitychange', onSight);
      leave();
    };
  }, [client, id]);
  const names = others.data?.map(({ name }) => name) ?? [];
  if (!names.length) return null;
  return (
    <p role="status" className="mb-2 border-l-2 border-ink bg-cloth px-3 py-1.5">
      {names.length < 2 ? names[0] : `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`}{' '}
      {names.length < 2 ? 'has' : 'have'} this open too.
    </p>
  );
}
