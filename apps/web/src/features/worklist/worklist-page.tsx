import { keys, useTouch } from '../../app/keys';
import { useMutation, useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { Worklist } from '@gray-loom/wire';
import { useSeesAll } from '../../app/may';
import { api } from '../../app/api';
import { Button, Failed, Fault, Heading, Loading } from '../../ui/controls';
import { ago, count, When } from '../../ui/when';
import { WeeksChart } from '../../ui/weeks-chart';
import { contactsWith } from '../../app/where';
import { DueSection } from '../activity/due-section';
import { BookState } from './book-state';

interface Decision {
  key: string;
  n: number;
  title: string;
  text: string;
  to: string;
}

function decisions(data: Worklist, seesAll: boolean): Decision[] {
  const all: Decision[] = [
    ...data.failed.map((run) => ({
      key: `f${run.runId}`,
      n: 1,
      title: 'Failed',
      text: run.title,
      to: `/ledger/${run.runId}`,
    })),
    ...data.syncs.lateStops.map((one) => ({
      key: `s${one.connectionId}`,
      n: one.count,
      title: 'Stops that are late',
      text: `Said ${ago(one.since)} ago, and not in force at ${one.name} yet: ${one.why}`,
      to: one.count === 1 ? `/contacts/${one.contactId}` : `/syncs/${one.connectionId}`,
    })),
    ...data.syncs.braked.map((one) => ({
      key: `b${one.connectionId}`,
      n: 1,
      title: 'Held by the brake',
      text: `${one.name}: ${one.reason}`,
      to: `/syncs/${one.connectionId}`,
    })),
    ...data.syncs.troubled.map((one) => ({
      key: `t${one.connectionId}`,
      n: 1,
      title: 'Connection in trouble',
      text: `${one.name}: ${one.trouble}`,
      to: `/syncs/${one.connectionId}`,
    })),
    ...data.syncs.notTaken.map((one) => ({
      key: `n${one.connectionId}${one.isUnreadable ? 'u' : ''}`,
      n: one.count,
      title: one.isUnreadable ? 'Cannot be read over there' : 'Not taken over there',
      text: `${one.name}: ${one.why} ${one.isUnreadable ? 'It is left as it is until it is mended there.' : 'It is tried again with every run.'}`,
      to: one.count === 1 && one.contactId ? `/contacts/${one.contactId}` : `/syncs/${one.connectionId}`,
    })),
    {
      key: 'conflicts',
      n: data.syncs.conflicts,
      title: 'Conflicts and questions of syncs',
      text: 'Values that both sides changed, and people over there who may be somebody here.',
      to: '/syncs/conflicts',
    },
    {
      key: 'proposed',
      n: seesAll ? data.proposed : 0,
      title: 'Merges that are proposed',
      text: 'Somebody takes records for one that they do not all see.',
      to: '/duplicates',
    },
    {
      key: 'certain',
      n: data.certain,
      title: 'Certain duplicates',
      text: 'Groups that agree in nearly everything; a look and a key each.',
      to: '/duplicates',
    },
    {
      key: 'likely',
      n: data.likely,
      title: 'Likely duplicates',
      text: 'Groups that want a closer look.',
      to: '/duplicates',
    },
    {
      key: 'possible',
      n: data.possible,
      title: 'Possible duplicates',
      text: 'Groups for a quiet hour.',
      to: '/duplicates',
    },
    ...data.held.files.map((file) => ({
      key: `h${file.runId}`,
      n: file.count,
      title: 'Held rows',
      text: `of ${file.name}, waiting to be mended or dropped.`,
      to: `/intake/held/${file.runId}`,
    })),
    ...data.unfinished.map((file) => ({
      key: `u${file.intakeId}`,
      n: file.rowCount,
      title: 'File not brought in',
      text: file.name,
      to: `/intake/${file.intakeId}`,
    })),
  ];
  return all.filter((one) => one.n > 0);
}

/** What others handed over, quietly below what waits. */
function Handed({ handed }: { handed: Worklist['handed'] }) {
  const touch = useTouch();
  const note = useMutation({
    mutationFn: (id: number) => api.post(`/handed/${id}/seen`),
    onSettled: () => touch('contacts'),
  });
  if (!handed.length) return null;
  return (
    <div className="mt-6">
      <Heading>Handed to you, or named to you</Heading>
      <Fault error={note.error} onClose={() => note.reset()} />
      <ul>
        {handed.map((one) => (
          <li key={one.id} className="flex items-baseline gap-3 border-b border-hair py-1.5">
            <span className="min-w-0 flex-1">
              <Link className="link" to={one.contact ? `/contacts/${one.contact.id}` : contactsWith('@run', one.runId)}>
                {one.contact?.name ?? `${count(one.count)} contacts`}
              </Link>{' '}
              <span className="text-ink2">
                {one.note === null ? 'by' : 'where you are named by'} {one.by || 'somebody'}, <When at={one.at} /> ago
              </span>
              {one.note === null ? null : <span className="block truncate">{one.note}</span>}
            </span>
            <Button busy={note.isPending && note.variables === one.id} onClick={() => note.mutate(one.id)}>
              Noted
            </Button>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** What needs a person's decision today, weightiest first; beside it how the whole stands. */
export function WorklistPage() {
  const seesAll = useSeesAll();
  const work = useQuery({ queryKey: keys.worklist(), queryFn: () => api.get<Worklist>('/worklist') });
  if (work.isPending) return <Loading what="the worklist" />;
  if (work.isLoadingError) return <Failed error={work.error} retry={() => void work.refetch()} />;
  const data = work.data;
  const waiting = decisions(data, seesAll);
  return (
    <div className="grid h-full grid-cols-[minmax(0,1.25fr)_minmax(0,1fr)] overflow-y-auto max-md:grid-cols-1">
      <section className="px-6 py-5">
        <DueSection />
        <Heading aside={waiting.length ? undefined : 'all done'}>Waiting for you</Heading>
        {waiting.length === 0 ? (
          <p className="py-8 text-center text-ink2">
            Nothing needs a decision. {data.contacts === 0 ? 'Bring a file in under Intake to begin.' : ''}
          </p>
        ) : null}
        <ul>
          {waiting.map((one) => (
            <li key={one.key}>
              <Link
                to={one.to}
                className="grid grid-cols-[64px_minmax(0,1fr)_auto] items-baseline gap-4 border-b border-hair py-2.5 hover:bg-cloth"
              >
                <span className="text-right text-[20px] leading-6 font-semibold">{count(one.n)}</span>
                <span>
                  <span className="font-semibold">{one.title}</span>
                  <span className="block text-ink2">{one.text}</span>
                </span>
                <span className="text-ink3">decide →</span>
              </Link>
            </li>
          ))}
        </ul>
        {data.unfinished[0] ? (
          <p className="mt-3 text-[12.5px] text-ink3">
            The oldest file that waits came{' '}
            <When at={data.unfinished[data.unfinished.length - 1]?.createdAt ?? data.unfinished[0].createdAt} /> ago.
          </p>
        ) : null}
        <Handed handed={data.handed} />
      </section>
      <section className="space-y-6 border-l border-strong px-6 py-5">
        <div>
          <Heading aside={`${count(data.contacts)} contacts`}>New contacts by week and thread</Heading>
          <WeeksChart
            weeks={data.weeks}
            caption="New contacts by week and thread"
            empty="Nobody came in during the last twelve weeks."
          />
        </div>
        <BookState data={data} />
      </section>
    </div>
  );
}
