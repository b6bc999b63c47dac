import { useMutation, useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { ConflictList, WhoSample } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { Button, Failed, Fault, Loading } from '../../ui/controls';
import { Modal } from '../../ui/modal';
import { ThreadSwatch } from '../../ui/thread-swatch';
import { count } from '../../ui/when';

type Group = ConflictList['together'][number];

const BANDS: Record<Group['band'], string> = { certain: 'certain', likely: 'likely' };

/** Questions who somebody is that can be answered in one go, above the list of them. */
export function WhoGroups({ groups, onLook }: { groups: readonly Group[]; onLook: (group: Group) => void }) {
  const shown = groups.filter((group) => group.count > 1);
  if (!shown.length) return null;
  return (
    <ul aria-label="Questions to be answered together" className="border-b border-strong bg-cloth">
      {shown.map((group) => (
        <li key={`${group.connectionId}${group.band}`} className="border-b border-hair px-3.5 py-1.5 last:border-b-0">
          <p className="truncate text-[12.5px] text-ink2">Who is it? {group.connection}</p>
          <p className="flex items-baseline gap-2">
            <span>
              {count(group.count)} {BANDS[group.band]}
            </span>
            <Button className="ml-auto" onClick={() => onLook(group)}>
              Answer together
            </Button>
          </p>
        </li>
      ))}
    </ul>
  );
}

/** A sample of such questions, side by side with the likeliest contact here, and one press that settles all of them. */
export function WhoTogether({ group, onClose }: { group: Group; onClose: () => void }) {
  const { connectionId, connection, band } = group;
  const touch = useTouch();
  const sample = useQuery({
    queryKey: keys.whoSample(connectionId, band),
    queryFn: () => api.get<WhoSample>(`/connections/${connectionId}/who?band=${band}`),
  });
  const settle = useMutation({
    mutationFn: (saw: number) =>
      api.post<{ settled: number; left: number }>(`/connections/${connectionId}/who`, { band, saw }),
    onSuccess: onClose,
    onSettled: () => touch('syncs', 'run'),
  });
  const data = sample.data;
  return (
    <Modal title={`Who they are: ${band} in ${connection}`} onClose={onClose} width={760}>
      <Fault error={settle.error} onClose={() => settle.reset()} />
      {sample.isPending ? <Loading what="a sample" /> : null}
      {sample.isLoadingError ? <Failed error={sample.error} retry={() => void sample.refetch()} /> : null}
      {data ? (
        <>
          <p>
            {data.count
              ? `${count(data.count)} records over there would each be taken for the contact beside them. ${
                  data.count > data.sample.length ? 'These are a few of them, spread over all.' : ''
                }`
              : 'None of them can be answered together.'}
            {data.left
              ? ` ${count(data.left)} stay questions: their contact has a record over there already, or two records claim it.`
              : ''}
          </p>
          {data.sample.length ? (
            <table className="mt-2 w-full table-fixed text-left">
              <thead className="text-[12.5px] text-ink2">
                <tr className="border-b border-strong">
                  <th className="py-1 font-normal">
                    <span className="flex items-center gap-2">
                      <ThreadSwatch kind={group.tool} look={group.look} /> over there
                    </span>
                  </th>
                  <th className="font-normal">here</th>
                </tr>
              </thead>
              <tbody>
                {data.sample.map((one) => {
                  const [first] = one.candidates;
                  return (
                    <tr key={one.key} className="border-b border-hair align-top">
                      <td className="py-1 pr-3">
                        {one.name}
                        <span className="block text-[12.5px] text-ink2">{one.theirs.text.join(' · ')}</span>
                      </td>
                      <td className="py-1">
                        {first ? (
                          <>
                            <Link className="hover:underline" to={`/contacts/${first.id}`}>
                              {first.name}
                            </Link>
                            <span className="block text-[12.5px] text-ink2">
                              {[first.email, first.tel].filter(Boolean).join(' · ') || 'no e-mail and no phone'}
                            </span>
                          </>
                        ) : null}
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          ) : null}
          <div className="mt-3 flex gap-2">
            <Button
              needs="editor"
              kind="action"
              busy={settle.isPending}
              disabled={!data.count}
              onClick={() => settle.mutate(data.count)}
            >
              They are the same: settle {count(data.count)}
            </Button>
            <Button onClick={onClose}>Not now</Button>
          </div>
        </>
      ) : null}
    </Modal>
  );
}
