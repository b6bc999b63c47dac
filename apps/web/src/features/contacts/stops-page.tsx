import { useInfiniteQuery, useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { CHANNELS, type Channel } from '@gray-loom/core/writing';
import type { StopAnswer, StopEvidence } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { useLists } from '../../app/lists';
import { May } from '../../app/may';
import { Button, Failed, Fault, Heading, Loading } from '../../ui/controls';
import { CHANNEL_WORDS } from '../../ui/channel-words';
import { count, When } from '../../ui/when';
import { RecordKinds } from './record-kinds';

const listed = (channels: readonly Channel[]) => channels.map((channel) => CHANNEL_WORDS[channel]).join(', ');

/** Who wants no more of what: asked of any person or address, entered for any address, whoever has it. */
export function StopsPage() {
  const lists = useLists();
  const [query, setQuery] = useSearchParams();
  const find = query.get('ask') ?? '';
  const [typed, setTyped] = useState(find);
  const answer = useInfiniteQuery({
    queryKey: keys.stops(find),
    queryFn: ({ pageParam }) => api.get<StopAnswer>(`/stops?find=${encodeURIComponent(find)}&after=${pageParam}`),
    initialPageParam: 0,
    getNextPageParam: ({ next }) => next,
  });
  const first = answer.data?.pages[0];
  const evidence = answer.data?.pages.flatMap((page) => page.evidence) ?? [];
  return (
    <div className="flex h-full flex-col">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5 border-b border-hair px-3.5 py-2">
        <h1 className="sr-only">Stops</h1>
        <RecordKinds current="stops" lists={lists.data} />
      </div>
      <div className="relative min-h-0 flex-1 overflow-y-auto">
        <div className="grid gap-8 px-6 py-4 lg:grid-cols-[minmax(0,1fr)_22rem]">
          <div>
            <form
              role="search"
              className="flex items-end gap-2"
              onSubmit={(event) => {
                event.preventDefault();
                setQuery(typed.trim() ? { ask: typed.trim() } : {});
              }}
            >
              <label className="flex-1">
                <span className="block text-[12.5px] text-ink2">May we write to or call</span>
                <input
                  className="field w-full"
                  placeholder="a name, a mailbox or a number"
                  value={typed}
                  maxLength={300}
                  onChange={(event) => setTyped(event.target.value)}
                />
              </label>
              <Button type="submit" kind="action">
                Ask
              </Button>
              {find ? (
                <Button
                  kind="quiet"
                  onClick={() => {
                    setTyped('');
                    setQuery({});
                  }}
                >
                  All stops of addresses
                </Button>
              ) : null}
            </form>
            {answer.isPending ? (
              <Loading what="the stops" />
            ) : answer.isLoadingError ? (
              <Failed error={answer.error} retry={() => void answer.refetch()} />
            ) : find && first ? (
              <Answer find={find} answer={first} />
            ) : (
              <section className="mt-5">
                <Heading aside="of addresses and numbers, whoever has them">Latest stops</Heading>
                {evidence.length ? (
                  <Said list={evidence} />
                ) : (
                  <p className="py-3 text-ink2">
                    Nobody said anything of an address yet. What people said of themselves stands on their sheets; ask
                    for them above.
                  </p>
                )}
                {answer.hasNextPage ? (
                  <button type="button" className="link mt-2" onClick={() => void answer.fetchNextPage()}>
                    Earlier ones
                  </button>
                ) : null}
              </section>
            )}
          </div>
          <May role="editor">
            <EnterStops />
          </May>
        </div>
      </div>
    </div>
  );
}

function Answer({ find, answer: { isAddress, evidence, returned, people } }: { find: string; answer: StopAnswer }) {
  // The latest word of each channel counts; the latest comes first.
  const stopped = CHANNELS.some((channel) => evidence.find((one) => one.channel === channel)?.state === 'optedOut');
  return (
    <>
      {isAddress ? (
        <section className="mt-5">
          <Heading aside={stopped ? <span className="text-alarm">stopped</span> : 'no stop'}>{find}</Heading>
          {evidence.length ? (
            <Said list={evidence} />
          ) : (
            <p className="py-2 text-ink2">Nobody said anything of this address.</p>
          )}
          {stopped ? (
            <May role="editor">
              <Lift address={find} channels={[...new Set(evidence.map(({ channel }) => channel))]} />
            </May>
          ) : null}
          {people.length ? null : (
            <p className="py-2 text-ink2">Nobody here has it. Whoever gets it later has what is said here as well.</p>
          )}
        </section>
      ) : null}
      {returned.length ? (
        <section className="mt-5" aria-label="Mail came back">
          <Heading aside="until something that is sent later is opened">Mail came back</Heading>
          <ul>
            {returned.map(({ address, how, at, runId }) => (
              <li key={address} className="flex flex-wrap items-baseline gap-x-3 border-b border-hair py-1">
                <span className="w-16 shrink-0 text-ink2">
                  <When at={at} />
                </span>
                <span className="min-w-0 flex-1 break-words">
                  <strong className="font-semibold">{address}</strong> {how}
                </span>
                <Link to={`/ledger/${runId}`} className="link text-[12.5px]">
                  Ledger
                </Link>
              </li>
            ))}
          </ul>
        </section>
      ) : null}
      {people.map((person) => (
        <section key={person.id} className="mt-5" aria-label={person.name}>
          <Heading
            aside={
              person.closed.length ? (
                <span className="text-alarm">no {listed(person.closed)}</span>
              ) : (
                'nothing is stopped'
              )
            }
          >
            <Link to={`/contacts/${person.id}`} className="hover:underline">
              {person.name}
            </Link>
          </Heading>
          {person.evidence.length ? (
            <Said list={person.evidence} />
          ) : (
            <p className="py-2 text-ink2">Nothing was said.</p>
          )}
          {person.tools.map((tool) => {
            const missing = person.closed.filter((channel) => channel === 'call' && !tool.channels.includes(channel));
            return (
              <p key={tool.connectionId} className="py-0.5 text-[12.5px] text-ink2">
                <Link to={`/syncs/${tool.connectionId}`} className="link">
                  {tool.connection}
                </Link>{' '}
                {tool.channels.length ? `holds: no ${listed(tool.channels)}` : 'holds no stop'}, last seen{' '}
                <When at={tool.seenAt} />
                {missing.length ? (
                  <span className="text-alarm">
                    {' '}
                    · does not know yet of: no {listed(missing)}; its next run tells it
                  </span>
                ) : null}
              </p>
            );
          })}
        </section>
      ))}
      {!isAddress && !people.length ? (
        <p className="mt-5 text-ink2">Nobody here is called so, and it is neither a mailbox nor a number.</p>
      ) : null}
    </>
  );
}

/** Evidence, the latest first: what was said, of what, how, when, and who wrote it down. */
function Said({ list }: { list: readonly StopEvidence[] }) {
  return (
    <ul>
      {list.map((one) => (
        <li key={one.id} className="flex flex-wrap items-baseline gap-x-3 border-b border-hair py-1">
          <span className="w-16 shrink-0 text-ink2">
            <When at={one.statedAt} />
          </span>
          <span className={`w-32 shrink-0 ${one.state === 'optedOut' ? 'text-alarm' : ''}`}>
            {one.state === 'optedOut' ? 'no ' : 'yes to '}
            {CHANNEL_WORDS[one.channel]}
          </span>
          <span className="min-w-0 flex-1 break-words">
            {one.address ? <strong className="font-semibold">{one.address} </strong> : null}
            {one.how}
            <span className="text-ink2">{one.by ? ` · ${one.by}` : ''}</span>
          </span>
          <Link to={`/ledger/${one.runId}`} className="link text-[12.5px]">
            Ledger
          </Link>
        </li>
      ))}
    </ul>
  );
}

/** Lifts the stops of an address, on the word of whoever has it. */
function Lift({ address, channels }: { address: string; channels: Channel[] }) {
  const touch = useTouch();
  const [how, setHow] = useState('');
  const lift = useMutation({
    mutationFn: () => api.post('/stops', { addresses: [address], channels, state: 'allowed', how }),
    onSuccess: async () => {
      setHow('');
      await touch('contacts', 'run');
    },
  });
  return (
    <form
      className="py-2"
      onSubmit={(event) => {
        event.preventDefault();
        lift.mutate();
      }}
    >
      <Fault error={lift.error} onClose={() => lift.reset()} />
      <div className="flex items-end gap-2">
        <label className="flex-1">
          <span className="block text-[12.5px] text-ink2">They said that it may be used again; how, and when</span>
          <input
            className="field w-full"
            value={how}
            maxLength={300}
            placeholder="wrote on 2 December that it was a slip"
            onChange={(event) => setHow(event.target.value)}
          />
        </label>
        <Button type="submit" busy={lift.isPending} disabled={!how.trim()}>
          Lift the stop
        </Button>
      </div>
    </form>
  );
}

/** Addresses that are stopped though nobody here may have them: from a letter, a list, a call. */
function EnterStops() {
  const touch = useTouch();
  const [text, setText] = useState('');
  const [channels, setChannels] = useState<Channel[]>(['email', 'text', 'call', 'voicemail']);
  const [how, setHow] = useState('');
  const addresses = [...new Set(text.split(/[\n;,]+/).map((one) => one.trim()))].filter(Boolean);
  const enter = useMutation({
    mutationFn: () => api.post('/stops', { addresses, channels, how }),
    onSuccess: async () => {
      setText('');
      await touch('contacts', 'run');
    },
  });
  return (
    <section aria-label="Enter stops">
      <Heading>Enter stops</Heading>
      <form
        className="mt-2 space-y-2"
        onSubmit={(event) => {
          event.preventDefault();
          enter.mutate();
        }}
      >
        <label className="block">
          <span className="block text-[12.5px] text-ink2">Mailboxes and numbers, one a line</span>
          <textarea
            className="field h-28 w-full"
            value={text}
            onChange={(event) => setText(event.target.value)}
            placeholder={'ona@example.org\n+44 7700 900123'}
          />
        </label>
        <fieldset>
          <legend className="text-[12.5px] text-ink2">They want no more</legend>
          <div className="flex flex-wrap gap-x-4 gap-y-1">
            {CHANNELS.filter((channel) => channel !== 'post').map((channel) => (
              <label key={channel} className="flex items-center gap-1.5">
                <input
                  type="checkbox"
                  checked={channels.includes(channel)}
                  onChange={({ target: { checked } }) =>
                    setChannels(checked ? [...channels, channel] : channels.filter((one) => one !== channel))
                  }
                />
                {CHANNEL_WORDS[channel]}
              </label>
            ))}
          </div>
        </fieldset>
        <label className="block">
          <span className="block text-[12.5px] text-ink2">How it was said</span>
          <input
            className="field w-full"
            value={how}
            maxLength={300}
            placeholder="by letter of 1 December"
            onChange={(event) => setHow(event.target.value)}
          />
        </label>
        <Fault error={enter.error} onClose={() => enter.reset()} />
        <Button type="submit" busy={enter.isPending} disabled={!addresses.length || !channels.length || !how.trim()}>
          {addresses.length > 1 ? `Stop ${count(addresses.length)} addresses` : 'Stop it'}
        </Button>
        <p className="text-[12.5px] text-ink2">
          Whoever has one of these now, or gets it later, is not written to or called by it. Connected tools hear it
          with their next run.
        </p>
      </form>
    </section>
  );
}
