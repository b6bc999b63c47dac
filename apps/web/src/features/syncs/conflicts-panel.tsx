import { keys, useTouch } from '../../app/keys';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { ConflictEntry, ConflictList, SettleRequest, ThreadKind } from '@gray-loom/wire';
import { api } from '../../app/api';
import { useShortcut } from '../../app/keyboard';
import { Button, Failed, Fault, Heading, Loading, Notice } from '../../ui/controls';
import { ThreadSwatch } from '../../ui/thread-swatch';
import { count, When } from '../../ui/when';
import { WhoGroups, WhoTogether } from './who-together';

const PAGE = 300;
/** A question in the list, in a word or two; one about a value is named by its field. */
const SHORT: Partial<Record<ConflictEntry['kind'], string>> = {
  who: 'who?',
  two: 'twice there',
  removal: 'gone here',
};

type Settle = Partial<SettleRequest> & Pick<SettleRequest, 'take'>;

/** Values that both sides changed, and who somebody over there is: one after the other, by keyboard. */
export function ConflictsPanel({ picked }: { picked: string }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const touch = useTouch();
  const [limit, setLimit] = useState(PAGE);
  const list = useQuery({
    queryKey: keys.conflicts(limit),
    queryFn: () => api.get<ConflictList>(`/conflicts?limit=${limit}`),
    placeholderData: (before) => before,
  });
  const [settled, setSettled] = useState(0);
  const [together, setTogether] = useState<ConflictList['together'][number] | null>(null);
  const all = list.data?.entries ?? [];
  const total = list.data?.total ?? 0;
  const at = Math.max(
    0,
    all.findIndex(({ key }) => key === picked),
  );
  const conflict = all[at];
  const go = (key: string | undefined) =>
    void navigate(key === undefined ? '/syncs/conflicts' : `/syncs/conflicts/${encodeURIComponent(key)}`, {
      replace: true,
    });
  useShortcut('PageDown / j', 'Next one', 'Conflicts', () => go(all[Math.min(all.length - 1, at + 1)]?.key));
  useShortcut('PageUp / k', 'One before', 'Conflicts', () => go(all[Math.max(0, at - 1)]?.key));
  const settle = useMutation({
    mutationFn: ({ key, ...request }: Settle & { key: string }) =>
      api.post(`/conflicts/${encodeURIComponent(key)}/settle`, request),
    onSuccess: (_, { key }) => {
      const next = all[at + 1] ?? all[at - 1];
      client.setQueryData<ConflictList>(
        keys.conflicts(limit),
        (known) =>
          known && { ...known, entries: known.entries.filter((one) => one.key !== key), total: known.total - 1 },
      );
      setSettled((n) => n + 1);
      go(next?.key);
    },
    onSettled: () => touch('syncs', 'run'),
  });
  if (list.isPending) return <Loading what="the conflicts" />;
  if (list.isLoadingError) return <Failed error={list.error} retry={() => void list.refetch()} />;
  if (!conflict)
    return (
      <Notice title={settled ? 'All of them are settled' : 'Nothing waits'}>
        Where both sides change one value, or somebody over there may be somebody here, it stands here until a person
        decides. The rest goes on meanwhile.
      </Notice>
    );
  return (
    <div className="flex h-full">
      <div className="w-64 shrink-0 overflow-y-auto border-r border-strong">
        <WhoGroups groups={list.data.together} onLook={setTogether} />
        <ol aria-label="Conflicts and questions">
          {all.map((one, i) => (
            <ConflictLine key={one.key} conflict={one} picked={i === at} onPick={() => go(one.key)} />
          ))}
        </ol>
        {total > all.length ? (
          <p className="px-3.5 py-2">
            <Button kind="quiet" busy={list.isFetching} onClick={() => setLimit(limit + PAGE)}>
              Show more of {count(total)}
            </Button>
          </p>
        ) : null}
      </div>
      {together ? <WhoTogether group={together} onClose={() => setTogether(null)} /> : null}
      <div className="min-w-0 flex-1 overflow-y-auto">
        <Fault error={settle.error} onClose={() => settle.reset()} />
        <div className="px-6 py-5">
          <Heading aside={`${at + 1} of ${count(total)}${settled ? `, ${settled} settled` : ''}`}>
            {conflict.kind === 'who' ? `Who is ${conflict.name}?` : conflict.name}
          </Heading>
          {conflict.kind === 'value' ? (
            <ValueBoard
              key={conflict.key}
              conflict={conflict}
              busy={settle.isPending}
              onSettle={(request) =>
                settle.mutate({
                  key: conflict.key,
                  saw: { ours: conflict.ours.text, theirs: conflict.theirs.text },
                  ...request,
                })
              }
            />
          ) : conflict.kind === 'list' ? (
            <ListBoard
              key={conflict.key}
              conflict={conflict}
              busy={settle.isPending}
              onSettle={(request) => settle.mutate({ key: conflict.key, ...request })}
            />
          ) : conflict.kind === 'removal' ? (
            <RemovalBoard
              key={conflict.key}
              conflict={conflict}
              busy={settle.isPending}
              onSettle={(request) => settle.mutate({ key: conflict.key, ...request })}
            />
          ) : (
            <WhoBoard
              key={conflict.key}
              conflict={conflict}
              busy={settle.isPending}
              onSettle={(request) => settle.mutate({ key: conflict.key, ...request })}
            />
          )}
        </div>
      </div>
    </div>
  );
}

function ConflictLine({ conflict, picked, onPick }: { conflict: ConflictEntry; picked: boolean; onPick: () => void }) {
  const line = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (picked) line.current?.scrollIntoView({ block: 'nearest' });
  }, [picked]);
  return (
    <li>
      <button
        ref={line}
        type="button"
        aria-current={picked || undefined}
        onClick={onPick}
        className={
          `flex w-full items-baseline gap-2 border-b border-hair px-3.5 py-1.5 text-left ` +
          `${picked ? 'bg-picked shadow-[inset_3px_0_0_var(--ink)]' : 'hover:bg-cloth'}`
        }
      >
        <span className="truncate">{conflict.name}</span>
        <span className="ml-auto text-[12.5px] whitespace-nowrap text-ink2">
          {SHORT[conflict.kind] ?? conflict.field}
        </span>
      </button>
    </li>
  );
}

interface BoardProps {
  conflict: ConflictEntry;
  busy: boolean;
  onSettle: (request: Settle) => void;
}

/** One value on both sides, each with its thread and time; the cloth between shows what comes of a choice. */
function ValueBoard({ conflict, busy, onSettle }: BoardProps) {
  const { field, ours, theirs, connection, contactId, several, why } = conflict;
  const [always, setAlways] = useState(false);
  const [text, setText] = useState('');
  const box = useRef<HTMLInputElement>(null);
  const take = (request: Settle) => (busy ? undefined : onSettle({ ...request, always }));
  useShortcut('1', 'Take what is here', 'Conflicts', () => take({ take: 'ours' }), { needs: 'editor' });
  useShortcut('2', 'Take what is there', 'Conflicts', () => take({ take: 'theirs' }), {
    enabled: why !== 'unreadable',
    needs: 'editor',
  });
  useShortcut('3', 'Keep both', 'Conflicts', () => take({ take: 'both' }), { enabled: several, needs: 'editor' });
  useShortcut('t', 'Type the value', 'Conflicts', () => box.current?.focus(), { needs: 'editor' });
  const side = (
    title: string,
    lines: string[],
    at: string | null,
    thread: string | null,
    kind: ThreadKind,
    look = 0,
  ) => (
    <div className="woven border border-strong bg-page p-3">
      <p className="flex items-center gap-2 text-[12.5px] text-ink2">
        <ThreadSwatch kind={kind} look={look} />
        {title}
      </p>
      {lines.length ? (
        lines.map((line) => (
          <p key={line} className="text-[15px] font-semibold break-words">
            {line}
          </p>
        ))
      ) : (
        <p className="text-[15px] text-ink3">nothing</p>
      )}
      <p className="mt-1 text-[12.5px] text-ink2">
        {at ? (
          <>
            changed <When at={at} /> ago
          </>
        ) : (
          'not said when'
        )}
        {thread ? `, ${thread}` : ''}
      </p>
    </div>
  );
  return (
    <div className="mt-3 space-y-4">
      <p>
        <strong className="font-semibold">{field}</strong>{' '}
        {why === 'unreadable'
          ? 'over there cannot be read as such a value here.'
          : 'was changed on both sides since they last agreed, or never agreed.'}{' '}
        <Link className="link" to={`/contacts/${contactId}`}>
          Open the contact
        </Link>
      </p>
      <div className="grid grid-cols-2 gap-4">
        {side('Here', ours.text, ours.at, ours.thread, ours.kind)}
        {side(connection, theirs.text, theirs.at, null, conflict.tool, conflict.look)}
      </div>
      <div className="flex flex-wrap items-center gap-2">
        <Button needs="editor" keys="1" busy={busy} onClick={() => take({ take: 'ours' })}>
          Take what is here
        </Button>
        {why === 'unreadable' ? null : (
          <Button needs="editor" keys="2" busy={busy} onClick={() => take({ take: 'theirs' })}>
            Take what is there
          </Button>
        )}
        {several ? (
          <Button needs="editor" keys="3" busy={busy} onClick={() => take({ take: 'both' })}>
            Keep both
          </Button>
        ) : null}
      </div>
      <form
        className="flex items-center gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          take({ take: 'typed', text });
        }}
      >
        <input
          ref={box}
          className="field w-72"
          aria-label={`Another value for ${field}`}
          placeholder="or type the right one"
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Escape') box.current?.blur();
          }}
        />
        <Button needs="editor" type="submit" keys="t" busy={busy} disabled={!text.trim()}>
          Take what is typed
        </Button>
      </form>
      <label className="flex items-center gap-2">
        <input type="checkbox" checked={always} onChange={(event) => setAlways(event.target.checked)} />
        Always so for {field} with {connection}: the side that is taken replaces the other from now on
      </label>
    </div>
  );
}

/** Somebody over there put a person into a list that is kept from here, or took them out. */
function ListBoard({ conflict, busy, onSettle }: BoardProps) {
  const { field, connection, name, contactId, theirs } = conflict;
  const wasPutIn = theirs.text.length > 0;
  const take = (side: 'ours' | 'theirs') => (busy ? undefined : onSettle({ take: side }));
  useShortcut('1', 'Put the list right', 'Conflicts', () => take('ours'), { needs: 'editor' });
  useShortcut('2', 'Leave it so', 'Conflicts', () => take('theirs'), { needs: 'editor' });
  return (
    <div className="mt-3 space-y-4">
      <p>
        <Link className="link" to={`/contacts/${contactId}`}>
          {name}
        </Link>{' '}
        {wasPutIn ? 'was put into' : 'was taken out of'} the list <strong className="font-semibold">{field}</strong> in{' '}
        {connection} by hand. It follows a segment here, {wasPutIn ? 'in which they are not' : 'in which they are'}.
      </p>
      <div className="flex flex-wrap gap-2">
        <Button needs="editor" keys="1" busy={busy} onClick={() => take('ours')}>
          {wasPutIn ? 'Take them out again' : 'Put them in again'}
        </Button>
        <Button needs="editor" keys="2" busy={busy} onClick={() => take('theirs')}>
          Leave it so, as an exception
        </Button>
      </div>
    </div>
  );
}

/** A record whose contact is gone here, and that somebody over there edited, or sent over by hand, since both sides agreed. */
function RemovalBoard({ conflict, busy, onSettle }: BoardProps) {
  const { theirs, connection, name, contactId, look } = conflict;
  useShortcut('b', 'Bring the contact back', 'Conflicts', () => (busy ? undefined : onSettle({ take: 'bringBack' })), {
    needs: 'editor',
  });
  useShortcut('x', 'Leave it there', 'Conflicts', () => (busy ? undefined : onSettle({ take: 'leave' })), {
    needs: 'editor',
  });
  return (
    <div className="mt-3 space-y-4">
      <p>
        <Link className="link" to={`/contacts/${contactId}`}>
          {name}
        </Link>{' '}
        was deleted here, or takes part no more. Since then somebody over there edited the record, or sent it over by
        hand.
      </p>
      <div className="woven border border-strong bg-page p-3">
        <p className="flex items-center gap-2 text-[12.5px] text-ink2">
          <ThreadSwatch kind={conflict.tool} look={look} /> {connection}
          {theirs.at ? (
            <>
              , changed <When at={theirs.at} /> ago
            </>
          ) : null}
        </p>
        {theirs.text.length ? (
          theirs.text.map((line) => (
            <p key={line} className="text-[15px] font-semibold break-words">
              {line}
            </p>
          ))
        ) : (
          <p className="text-ink2">What was edited is kept over there only.</p>
        )}
      </div>
      <div className="flex flex-wrap gap-2">
        <Button needs="editor" keys="b" busy={busy} onClick={() => onSettle({ take: 'bringBack' })}>
          Bring the contact back, with what was edited
        </Button>
        <Button needs="editor" keys="x" busy={busy} onClick={() => onSettle({ take: 'leave' })}>
          Leave it there, out of step
        </Button>
        <Button needs="editor" kind="danger" busy={busy} onClick={() => onSettle({ take: 'removeThere' })}>
          Remove it all the same
        </Button>
      </div>
    </div>
  );
}

/** Somebody over there who may be somebody here; or two records there for one contact. */
function WhoBoard({ conflict, busy, onSettle }: BoardProps) {
  const { candidates, theirs, connection, name, kind, contactId, also } = conflict;
  const isTwo = kind === 'two';
  const choose = (n: number) => {
    const candidate = candidates[n];
    if (candidate && !busy) onSettle({ take: 'contact', contactId: candidate.id });
  };
  useShortcut('1', 'The first one', 'Conflicts', () => choose(0), { enabled: !isTwo, needs: 'editor' });
  useShortcut('2', 'The second one', 'Conflicts', () => choose(1), { enabled: !isTwo, needs: 'editor' });
  useShortcut('3', 'The third one', 'Conflicts', () => choose(2), { enabled: !isTwo, needs: 'editor' });
  useShortcut('m', 'Make somebody new', 'Conflicts', () => (busy ? undefined : onSettle({ take: 'new' })), {
    enabled: !isTwo,
    needs: 'editor',
  });
  useShortcut('x', 'Leave it out', 'Conflicts', () => (busy ? undefined : onSettle({ take: 'leave' })), {
    needs: 'editor',
  });
  return (
    <div className="mt-3 space-y-4">
      <div className="woven border border-strong bg-page p-3">
        <p className="flex items-center gap-2 text-[12.5px] text-ink2">
          <ThreadSwatch kind={conflict.tool} look={conflict.look} /> {connection}
        </p>
        <p className="text-[15px] font-semibold">{isTwo ? theirs.text[0] : name}</p>
        {theirs.text.slice(isTwo ? 1 : 0).map((line) => (
          <p key={line} className="text-ink2">
            {line}
          </p>
        ))}
      </div>
      {isTwo ? (
        <>
          <p>
            Its contact was merged into{' '}
            <Link className="link" to={`/contacts/${contactId}`}>
              {name}
            </Link>
            , who has a record over there already. The second one is not kept in step any more.
          </p>
          {also.map((one) => (
            <p key={one.connection} className="flex items-center gap-2">
              <ThreadSwatch kind={one.tool} look={one.look} />
              <span>
                It is so in {one.connection} as well: <span className="font-semibold">{one.text[0]}</span>
                <span className="text-ink2"> {one.text.slice(1).join(' · ')}</span>
              </span>
            </p>
          ))}
          <p className="text-ink2">
            {also.length ? 'What you say holds in each of them. ' : ''}When the merge is taken back, both are in step
            again, and one that was removed is put back.
          </p>
          <div className="flex gap-2">
            <Button needs="editor" kind="danger" busy={busy} onClick={() => onSettle({ take: 'removeThere' })}>
              Remove it over there
            </Button>
            <Button needs="editor" keys="x" busy={busy} onClick={() => onSettle({ take: 'leave' })}>
              Leave it there
            </Button>
          </div>
        </>
      ) : (
        <>
          <ul>
            {candidates.map((candidate, i) => (
              <li key={candidate.id} className="flex items-center gap-3 border-b border-hair py-1.5">
                <Button needs="editor" keys={String(i + 1)} busy={busy} onClick={() => choose(i)}>
                  It is
                </Button>
                <span className="min-w-0">
                  <Link className="font-semibold hover:underline" to={`/contacts/${candidate.id}`}>
                    {candidate.name}
                  </Link>
                  <span className="block text-[12.5px] text-ink2">
                    {[candidate.email, candidate.tel].filter(Boolean).join(' · ') || 'no e-mail and no phone'}
                  </span>
                </span>
              </li>
            ))}
          </ul>
          {candidates.length > 1 ? (
            <p className="text-ink2">
              Are these one person? Merge them under{' '}
              <Link className="link" to="/duplicates">
                Duplicates
              </Link>
              , and the question answers itself.
            </p>
          ) : null}
          <div className="flex gap-2">
            <Button needs="editor" keys="m" busy={busy} onClick={() => onSettle({ take: 'new' })}>
              Somebody new
            </Button>
            <Button needs="editor" keys="x" busy={busy} onClick={() => onSettle({ take: 'leave' })}>
              Leave it out
            </Button>
          </div>
        </>
      )}
    </div>
  );
}
