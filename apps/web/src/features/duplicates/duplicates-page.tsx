import { useMay } from '../../app/may';
import { keys, useTouch } from '../../app/keys';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { Link, NavLink, useNavigate, useParams } from 'react-router';
import type { GroupList, GroupLook, GroupSummary, MatchBoard } from '@gray-loom/wire';
import { api } from '../../app/api';
import { useSeesAll } from '../../app/may';
import { useShortcut } from '../../app/keyboard';
import { Button, Failed, Loading, Notice } from '../../ui/controls';
import { useNarrow } from '../../ui/use-narrow';
import { count, When } from '../../ui/when';
import { BatchPanel } from './batch-panel';
import { HouseholdsPanel } from './households-panel';
import { MatchBoardPanel } from './match-board';
import { OriginPanel } from './origin-panel';

/** Groups of likely duplicates, surest first, and the board on which one is decided. */
export function DuplicatesPage() {
  const { id } = useParams();
  const navigate = useNavigate();
  const client = useQueryClient();
  const touch = useTouch();
  const seesAll = useSeesAll();
  const list = useQuery({
    queryKey: keys.duplicates(),
    queryFn: () => api.get<GroupList>('/duplicates'),
    refetchInterval: (query) => (query.state.data?.scanning ? 1500 : false),
  });
  const scan = useMutation({
    mutationFn: () => api.post('/duplicates/scan'),
    onSettled: () => touch('groups', 'run'),
  });
  const mayEdit = useMay('editor');
  const groups = list.data?.groups ?? [];
  const open = (groupId: number) => void navigate(`/duplicates/${groupId}`, { replace: true });
  const current = groups.findIndex((group) => group.id === Number(id));
  const free = (from: number) => groups.slice(Math.max(0, from)).find((group) => !group.busyWith);
  /** Goes on with the first of these that nobody else has, as the server says, since a colleague may have moved on just now. */
  const goOn = async (candidates: readonly GroupSummary[]) => {
    for (const { id: next, busyWith } of candidates) {
      if (busyWith) continue;
      // Who may decide nothing takes no group from anybody.
      const look = mayEdit ? await api.post<GroupLook>(`/duplicates/${next}/look`).catch(() => null) : null;
      if (look && (!look.waits || look.busyWith)) continue;
      open(next);
      return;
    }
    const [any] = candidates;
    void navigate(any ? `/duplicates/${any.id}` : '/duplicates', { replace: true });
  };
  const starting = useRef(false);
  // On a telephone the list comes first, and what is picked takes its place.
  const narrow = useNarrow();
  useEffect(() => {
    if (narrow || id || !groups.length || starting.current) return;
    starting.current = true;
    void goOn(groups).finally(() => {
      starting.current = false;
    });
  });
  const coming = free(current + 1)?.id;
  useEffect(() => {
    // The next board is there before it is asked for.
    if (coming !== undefined && /^\d+$/.test(id ?? ''))
      void client.prefetchQuery({
        queryKey: keys.board(coming),
        queryFn: () => api.get<MatchBoard>(`/duplicates/${coming}`),
        staleTime: 30_000,
      });
  }, [client, coming, id]);
  const step = (by: number) => {
    const group = groups[current + by];
    if (group) open(group.id);
  };
  useShortcut('PageDown / j', 'Next group', 'Duplicates', () => step(1));
  useShortcut('PageUp / k', 'Group before', 'Duplicates', () => step(-1));
  if (list.isPending) return <Loading what="the groups" />;
  if (list.isLoadingError) return <Failed error={list.error} retry={() => void list.refetch()} />;
  const { counts, decided, lately, later, scannedAt, scanning } = list.data;

  return (
    <div className="flex h-full">
      <nav
        aria-label="Groups"
        className={`flex w-60 shrink-0 flex-col border-r border-strong max-sm:w-full ${id ? 'max-sm:hidden' : ''}`}
      >
        <div className="border-b border-strong px-3.5 py-2">
          <p className="font-bold">{count(counts.certain + counts.likely + counts.possible)} groups</p>
          <p className="text-[12.5px] text-ink2">
            certain {count(counts.certain)} · likely {count(counts.likely)} · possible {count(counts.possible)}
          </p>
          <p className="flex flex-wrap gap-x-3 text-[12.5px]">
            {counts.certain && seesAll ? (
              <NavLink to="/duplicates/certain" className="link inline-block py-1">
                Merge the certain ones
              </NavLink>
            ) : null}
            {seesAll ? (
              <NavLink to="/duplicates/origin" className="link inline-block py-1">
                How they got in
              </NavLink>
            ) : null}
            <NavLink to="/duplicates/households" className="link inline-block py-1">
              Households
            </NavLink>
          </p>
        </div>
        <div className="min-h-0 flex-1 overflow-y-auto">
          {groups.map((group, i) => (
            <GroupLine
              key={group.id}
              group={group}
              before={groups[i - 1]}
              picked={group.id === Number(id)}
              onPick={() => open(group.id)}
            />
          ))}
        </div>
        <div className="space-y-1.5 border-t border-strong px-3.5 py-2 text-[12.5px] text-ink2">
          <p>
            {count(decided)} decided{lately ? `, ${count(lately)} in ten minutes` : ''}
            {later ? ` · ${count(later)} for later` : ''}
          </p>
          {seesAll ? (
            <p>
              {scannedAt ? (
                <>
                  Scanned <When at={scannedAt} /> ago
                </>
              ) : (
                'Not scanned yet'
              )}
            </p>
          ) : null}
          <Button needs="editor" wholeBook busy={scan.isPending || scanning !== null} onClick={() => scan.mutate()}>
            {scanning !== null ? 'Scanning' : 'Scan everybody'}
          </Button>
          {scan.error ? <p className="text-alarm">{scan.error.message}</p> : null}
        </div>
      </nav>
      <div className={`flex min-w-0 flex-1 flex-col ${id || groups.length === 0 ? '' : 'max-sm:hidden'}`}>
        {narrow && id ? (
          <div className="flex items-center gap-4 border-b border-strong px-3.5 py-1">
            <Link to="/duplicates" className="min-h-8 py-1.5">
              ← All groups
            </Link>
            {current >= 0 ? (
              <span className="ml-auto flex items-center">
                <span className="text-ink2">
                  {current + 1} of {groups.length}
                </span>
                <button
                  type="button"
                  aria-label="Group before"
                  disabled={current <= 0}
                  className="ml-2 min-h-10 min-w-10 disabled:opacity-30"
                  onClick={() => step(-1)}
                >
                  ‹
                </button>
                <button
                  type="button"
                  aria-label="Next group"
                  disabled={current + 1 >= groups.length}
                  className="min-h-10 min-w-10 disabled:opacity-30"
                  onClick={() => step(1)}
                >
                  ›
                </button>
              </span>
            ) : null}
          </div>
        ) : null}
        <div className="min-h-0 flex-1">
          {id === 'certain' ? (
            <BatchPanel />
          ) : id === 'origin' ? (
            <OriginPanel />
          ) : id === 'households' ? (
            <HouseholdsPanel />
          ) : id ? (
            <MatchBoardPanel
              key={id}
              id={Number(id)}
              busyWith={groups[current]?.busyWith ?? null}
              place={current >= 0 ? `${current + 1} of ${groups.length}` : 'decided'}
              onDecided={async () => {
                const candidates = [...groups.slice(current + 1), ...groups.slice(0, Math.max(0, current)).reverse()];
                await goOn(candidates);
                // The list forgets the group at once, or it would be opened again before the server's list arrives.
                client.setQueryData<GroupList>(keys.duplicates(), (known) => known && without(known, Number(id)));
              }}
            />
          ) : groups.length === 0 ? (
            <Notice title={scannedAt ? 'No likely duplicates are left' : 'Nobody has looked for duplicates yet'}>
              {scannedAt
                ? 'New people are checked as they come in.'
                : 'Scan everybody once; from then on new people are checked as they come in.'}
            </Notice>
          ) : null}
        </div>
      </div>
    </div>
  );
}

/** The list once a group is decided, as it will be told by the server a moment later. */
function without(list: GroupList, id: number): GroupList {
  const gone = list.groups.find((group) => group.id === id);
  if (!gone) return list;
  const counts = { ...list.counts };
  if (gone.state === 'open') counts[gone.band]--;
  return { ...list, counts, groups: list.groups.filter((group) => group.id !== id) };
}

function GroupLine({
  group,
  before,
  picked,
  onPick,
}: {
  group: GroupSummary;
  before: GroupSummary | undefined;
  picked: boolean;
  onPick: () => void;
}) {
  const heading = group.state === 'later' ? 'for later' : group.band;
  const was = before ? (before.state === 'later' ? 'for later' : before.band) : null;
  const line = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (picked) line.current?.scrollIntoView({ block: 'nearest' });
  }, [picked]);
  return (
    <>
      {heading !== was ? (
        <p className="border-b border-hair bg-wash px-3.5 py-0.5 text-[12px] text-ink2">{heading}</p>
      ) : null}
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
        <span className="truncate">{group.name}</span>
        <span className="ml-auto text-[12.5px] whitespace-nowrap text-ink2">
          {group.kind === 'organization' ? 'organization · ' : null}
          {group.busyWith ? (
            <span title={`${group.busyWith} is looking at this`}>{group.busyWith.split(' ')[0]} · </span>
          ) : null}
          {group.size > 2 || picked ? `${group.size} records` : group.size}
        </span>
      </button>
    </>
  );
}
