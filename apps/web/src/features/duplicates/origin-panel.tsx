import { keys } from '../../app/keys';
import { useQuery } from '@tanstack/react-query';
import type { DuplicateOrigin } from '@gray-loom/wire';
import { api } from '../../app/api';
import { Failed, Loading, Notice } from '../../ui/controls';
import { ThreadSwatch, THREAD_NAMES } from '../../ui/thread-swatch';
import { WeeksChart } from '../../ui/weeks-chart';
import { count } from '../../ui/when';

/** Where second records of people come from, week by week, so that the cause can be mended and not only the damage. */
export function OriginPanel() {
  const origin = useQuery({
    queryKey: keys.duplicates('origin'),
    queryFn: () => api.get<DuplicateOrigin>('/duplicates/origin'),
  });
  if (origin.isPending) return <Loading what="where duplicates come from" />;
  if (origin.isLoadingError) return <Failed error={origin.error} retry={() => void origin.refetch()} />;
  const { copies, weeks, threads } = origin.data;
  if (!copies)
    return (
      <Notice title="No second records are known">
        Once a scan has found groups that are certain or likely, this page shows which ways in made them.
      </Notice>
    );
  const most = Math.max(...threads.map((thread) => thread.copies));
  return (
    <div
      tabIndex={0}
      role="region"
      aria-label="How duplicates got in"
      className="relative h-full overflow-auto px-4.5 pt-3 pb-6"
    >
      <h1 className="text-[18px] font-bold">How duplicates got in</h1>
      <p className="mt-1 mb-3 max-w-2xl">
        {count(copies)} records stand for somebody who was here before, in groups that are certain or likely, merged or
        not. Counted is what came second.
      </p>
      <h2 className="font-semibold">By week</h2>
      <WeeksChart
        weeks={weeks}
        caption="Second records of people by week and thread"
        empty="None came in during the last half year."
      />
      <h2 className="mt-4 mb-1 font-semibold">By what brought them</h2>
      <table className="w-full max-w-3xl border-collapse">
        <thead>
          <tr className="border-b border-strong text-left text-[12.5px] text-ink2">
            <th scope="col" className="py-1 font-normal">
              Thread
            </th>
            <th scope="col" className="py-1 text-right font-normal">
              Second records
            </th>
            <th scope="col" className="py-1 text-right font-normal">
              Of all it brought
            </th>
            <th scope="col" className="w-2/5 py-1 pl-4 font-normal">
              Share of its people who were here
            </th>
          </tr>
        </thead>
        <tbody>
          {threads.map((thread) => (
            <tr key={thread.id} className="border-b border-hair">
              <th scope="row" className="max-w-64 truncate py-1 text-left font-normal" title={thread.name}>
                <ThreadSwatch kind={thread.kind} /> {thread.name}
                <span className="sr-only">, {THREAD_NAMES[thread.kind]}</span>
              </th>
              <td className="py-1 text-right tabular-nums">{count(thread.copies)}</td>
              <td className="py-1 text-right tabular-nums">{count(thread.brought)}</td>
              <td className="py-1 pl-4">
                <span className="flex items-center gap-2">
                  <span
                    aria-hidden="true"
                    className="block h-2 bg-ink2"
                    style={{ width: `${(70 * thread.copies) / most}%` }}
                  />
                  <span className="text-[12.5px] text-ink2 tabular-nums">
                    {thread.brought ? `${Math.round((100 * thread.copies) / thread.brought)}%` : ''}
                  </span>
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-3 max-w-2xl text-[12.5px] text-ink2">
        A file that brings many: recognise people by more in its mapping. By hand: the hint beside the entry form was
        passed over, or nothing was typed that tells people apart.
      </p>
    </div>
  );
}
