import { useMay } from '../../app/may';
import { keys, useTouch } from '../../app/keys';
import { showValue } from '@gray-loom/core/fields';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import type { BoardRow, MatchBoard } from '@gray-loom/wire';
import type { Value } from '@gray-loom/core/model';
import { api, Refused } from '../../app/api';
import { useShortcut } from '../../app/keyboard';
import { CHANNEL_WORDS } from '../../ui/channel-words';
import { Button, Failed, Loading } from '../../ui/controls';
import { useNarrow } from '../../ui/use-narrow';
import { useSwipe } from '../../ui/use-swipe';
import { threadBorder, ThreadSwatch } from '../../ui/thread-swatch';
import { ago, When } from '../../ui/when';
import { oddsInWords, Reasons } from './reasons';

const dayOf = (at: string) => new Date(at).toLocaleDateString('en-GB', { dateStyle: 'long' });
const KEYS = ['1', '2', '3', '4', '5', '6', '7', '8', '9', '0', '-', '='];

interface PanelProps {
  id: number;
  place: string;
  /** Who else has the group on screen. */
  busyWith: string | null;
  /** Goes on to the next group; what was decided is busy until it is there. */
  onDecided: () => Promise<void>;
}

/** Records as warp threads, fields as weft rows; the chosen value lights its crossing, the contact is woven beside the names. */
export function MatchBoardPanel({ id, place, busyWith, onDecided }: PanelProps) {
  const client = useQueryClient();
  const mayEdit = useMay('editor');
  const touch = useTouch();
  const board = useQuery({ queryKey: keys.board(id), queryFn: () => api.get<MatchBoard>(`/duplicates/${id}`) });
  useEffect(() => {
    if (!mayEdit) return;
    // Whoever looks has the group for a while, so that two people are not at one work.
    const look = () => void api.post(`/duplicates/${id}/look`).catch(() => undefined);
    look();
    const timer = setInterval(look, 60_000);
    return () => clearInterval(timer);
  }, [id, mayEdit]);
  const [choices, setChoices] = useState<Record<string, number>>({});
  const [active, setActive] = useState(0);
  const [folded, setFolded] = useState(true);
  // A telephone shows one record beside what comes out, and the others behind it.
  const narrow = useNarrow();
  const [facing, setFacing] = useState(0);
  const [lastRun, setLastRun] = useState<number | null>(null);
  const refresh = () => touch('groups', 'contacts', 'run');
  const decide = useMutation({
    mutationFn: ({ path, body }: { path: string; body?: unknown }) =>
      api.post<{ runId?: number } | undefined>(`/duplicates/${id}/${path}`, body),
    onSuccess: async (answer) => {
      setLastRun(answer?.runId ?? null);
      await onDecided();
      void refresh();
    },
    onError: () => void client.invalidateQueries({ queryKey: keys.board(id) }),
  });
  const undo = useMutation({ mutationFn: (runId: number) => api.post(`/runs/${runId}/undo`), onSettled: refresh });
  const data = board.data;
  const swipe = useSwipe((step) => setFacing(Math.max(0, Math.min((data?.members.length ?? 1) - 1, facing + step))));
  const rows = data?.rows ?? [];
  const shown = rows.filter((row) => row.kind === 'differ' || row.kind === 'several');
  const same = rows.filter((row) => row.kind === 'agree' || row.kind === 'one');
  const members = data?.members ?? [];
  const ids = members.map((member) => member.id);
  const elsewhere = data?.elsewhere ?? 0;
  const undecided = !!data && !data.stale && members.length > 1 && !elsewhere;
  const proposable = !!data && !data.stale && elsewhere > 0 && !data.group.proposedBy;
  const walk = folded ? shown : [...shown, ...same];
  const merge = () =>
    decide.mutate({
      path: 'merge',
      body: {
        memberIds: ids,
        keepId: null,
        choices,
        versions: Object.fromEntries(members.map((member) => [member.id, member.version])),
      },
    });
  const choose = (row: BoardRow | undefined, memberId: number | undefined) => {
    if (
      row &&
      memberId !== undefined &&
      row.chosen !== null &&
      row.cells.some((cell) => cell.memberId === memberId && cell.values.length)
    )
      setChoices({ ...choices, [row.field]: memberId });
  };
  useShortcut('Enter', 'Merge the records and go on', 'Match board', merge, {
    needs: 'editor',
    enabled: undecided && !decide.isPending,
  });
  useShortcut(
    'p',
    'Propose to merge what is partly outside your remit',
    'Match board',
    () => decide.mutate({ path: 'propose' }),
    {
      enabled: proposable && !decide.isPending,
      needs: 'editor',
    },
  );
  const lines = data?.lines ?? [];
  const apart = (sharedLines: string[] = []) => decide.mutate({ path: 'apart', body: { memberIds: ids, sharedLines } });
  useShortcut('a', 'Keep the records apart', 'Match board', () => apart(), { enabled: undecided, needs: 'editor' });
  useShortcut(
    'l',
    'Keep them apart and mark the line they share',
    'Match board',
    () => apart(lines.map(({ line }) => line)),
    { enabled: undecided && lines.length > 0, needs: 'editor' },
  );
  useShortcut('s', 'Later', 'Match board', () => decide.mutate({ path: 'later' }), {
    enabled: undecided,
    needs: 'editor',
  });
  useShortcut('ArrowDown', 'Next row', 'Match board', () => setActive(Math.min(walk.length - 1, active + 1)));
  useShortcut('ArrowUp', 'Row before', 'Match board', () => setActive(Math.max(0, active - 1)));
  useShortcut(
    '1 / 2 / 3 / 4 / 5 / 6 / 7 / 8 / 9 / 0 / - / =',
    'Choose that record for the row',
    'Match board',
    (event) => choose(walk[active], ids[KEYS.indexOf(event.key)]),
  );
  useShortcut('f', 'Fold or unfold rows in which all agree', 'Match board', () => setFolded(!folded));
  useShortcut('u', 'Undo the last decision', 'Match board', () => void undoLatest(client, undo.mutate, lastRun), {
    needs: 'editor',
  });
  if (board.isPending) return <Loading what="the group" />;
  if (board.isLoadingError) return <Failed error={board.error} retry={() => void board.refetch()} />;
  const visible = narrow ? members.slice(Math.min(facing, members.length - 1)).slice(0, 1) : members;
  const certain = board.data.group.band;
  const moved = decide.error instanceof Refused;
  return (
    <div className="flex h-full flex-col">
      <div {...(narrow ? swipe : {})} className="min-h-0 flex-1 overflow-auto px-4.5 pt-3">
        <header className="mb-2.5 flex flex-wrap items-baseline gap-x-3">
          <h1 className="text-[18px] font-bold">Are these one {board.data.group.kind}?</h1>
          <span>
            {certain.charAt(0).toUpperCase() + certain.slice(1)}, {oddsOf(board.data)}
          </span>
          <span className="text-ink2 max-sm:hidden">{place}</span>
          {busyWith ? <span className="text-ink2">{busyWith} is looking at this group too</span> : null}
        </header>
        {decide.error ? (
          <p role="alert" className="mb-2 bg-alarmwash px-3 py-1.5 text-alarm">
            {decide.error.message}
            {moved ? '' : ' Nothing was changed.'}
          </p>
        ) : null}
        {board.data.stale ? (
          <p className="mb-2 border-l-2 border-ink bg-cloth px-3 py-1.5">{board.data.stale}</p>
        ) : null}
        {elsewhere ? (
          <p className="mb-2 border-l-2 border-ink bg-cloth px-3 py-1.5">
            {members.length === 1 ? `${members[0]?.name}, and ` : ''}
            {elsewhere === 1 ? '1 more record' : `${elsewhere} more records`}, in somebody else's remit.{' '}
            {board.data.group.proposedBy
              ? `${board.data.group.proposedBy} proposes to merge them; somebody who sees everybody decides.`
              : 'Propose to merge them if you know that they are one; somebody who sees everybody decides.'}
          </p>
        ) : board.data.group.proposedBy ? (
          <p className="mb-2 border-l-2 border-ink bg-cloth px-3 py-1.5">
            {board.data.group.proposedBy} takes these for one, and does not see all of them.
          </p>
        ) : null}
        {narrow && members.length > 1 ? (
          <RecordTabs members={members} facing={visible[0]?.id ?? 0} onFace={setFacing} />
        ) : null}
        {rows.length ? (
          <table className="w-full table-fixed border-collapse border border-strong bg-page">
            <thead>
              <tr className="align-top">
                <th
                  scope="col"
                  className="w-26 border-b max-sm:w-20 border-strong px-2.5 py-2 text-left text-[12.5px] font-normal text-ink2"
                >
                  Field
                </th>
                <th scope="col" className="woven border-x-2 border-b border-ink border-b-strong px-2.5 py-2 text-left">
                  <span className="font-bold">After merging</span>
                  <span className="block font-normal text-ink2">woven from {members.length} records</span>
                </th>
                {visible.map((member) => (
                  <th
                    key={member.id}
                    scope="col"
                    className="border-b border-strong px-2.5 py-2 text-left"
                    style={threadBorder(member.thread?.kind ?? 'hand', 'left')}
                  >
                    <span className="flex items-baseline gap-1.5 font-bold">
                      {KEYS[members.indexOf(member)]}{' '}
                      {member.thread ? <ThreadSwatch kind={member.thread.kind} /> : null}
                      <Link
                        to={`/contacts/${member.id}`}
                        className="truncate font-normal hover:underline"
                        title={member.name}
                      >
                        {member.thread?.name ?? member.name}
                      </Link>
                    </span>
                    <span className="flex items-baseline gap-2 font-normal text-ink2">
                      <span>
                        changed <When at={member.touchedAt} /> ago
                      </span>
                      {members.length > 2 && undecided && mayEdit ? (
                        <button
                          type="button"
                          className="link text-[12px]"
                          onClick={() => decide.mutate({ path: 'take-out', body: { memberId: member.id } })}
                        >
                          take out
                        </button>
                      ) : null}
                    </span>
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {walk.map((row, i) => (
                <BoardLine
                  key={row.field}
                  row={row}
                  board={board.data}
                  visible={visible}
                  chosen={choices[row.field] ?? row.chosen}
                  active={i === active}
                  onActive={() => setActive(i)}
                  onChoose={(memberId) => choose(row, memberId)}
                />
              ))}
            </tbody>
          </table>
        ) : null}
        {same.length ? (
          <button
            type="button"
            className="w-full border border-t-0 border-strong bg-wash px-2.5 py-1.5 text-left text-[12.5px] text-ink2"
            aria-expanded={!folded}
            onClick={() => setFolded(!folded)}
          >
            {folded
              ? `Same in all, or in one only: ${same.map((row) => row.name.toLowerCase()).join(', ')} · ${same.length} rows folded`
              : 'Fold rows in which all agree'}
          </button>
        ) : null}
        {board.data.stopsKept.map(({ channel, at, allowedAt }) => (
          <p key={channel} className="mt-2 border-l-2 border-alarm bg-alarmwash px-3 py-1.5">
            One of them wanted no more {CHANNEL_WORDS[channel] ?? channel} on {dayOf(at)}, another one allowed it on{' '}
            {dayOf(allowedAt)}. A merge lifts no stop: the record that stays keeps it, until the person says otherwise.
          </p>
        ))}
        <Reasons board={board.data} />
      </div>
      <div className="flex flex-wrap items-center gap-2 border-t border-strong px-4.5 py-2.5">
        {elsewhere ? (
          <Button
            needs="editor"
            kind="action"
            keys="P"
            disabled={!proposable}
            busy={decide.isPending}
            onClick={() => decide.mutate({ path: 'propose' })}
          >
            Propose to merge
          </Button>
        ) : (
          <Button
            needs="editor"
            kind="action"
            keys="Enter"
            disabled={!undecided}
            busy={decide.isPending}
            onClick={merge}
          >
            Merge {members.length} records
          </Button>
        )}
        <Button needs="editor" keys="A" disabled={!undecided} onClick={() => apart()}>
          Keep apart
        </Button>
        {lines.length ? (
          <Button
            needs="editor"
            keys="L"
            disabled={!undecided}
            title={`${lines.map(({ shown }) => shown).join(' and ')} will prove nothing from now on, for anybody`}
            onClick={() => apart(lines.map(({ line }) => line))}
          >
            Apart, shared {lines.length > 1 ? 'lines' : lines[0]?.line.includes('@') ? 'e-mail' : 'phone'}
          </Button>
        ) : null}
        <Button needs="editor" keys="S" disabled={!undecided} onClick={() => decide.mutate({ path: 'later' })}>
          Later
        </Button>
        {undo.error ? <span className="text-alarm">{undo.error.message}</span> : null}
        <span className="ml-auto text-[12.5px] text-ink2 max-lg:hidden">
          1 2 3 choose the record for a row · ↑↓ rows · U undoes
        </span>
      </div>
    </div>
  );
}

/** The latest merge or keep-apart, whichever board it was made on. */
async function undoLatest(
  client: ReturnType<typeof useQueryClient>,
  undo: (runId: number) => void,
  lastRun: number | null,
): Promise<void> {
  if (lastRun !== null) return undo(lastRun);
  const { runs } = await client.fetchQuery({
    queryKey: keys.runs('latest-decision'),
    queryFn: () => api.get<{ runs: { id: number; kind: string; undoable: boolean }[] }>('/runs?limit=20'),
    staleTime: 0,
  });
  const latest = runs.find((run) => (run.kind === 'merge' || run.kind === 'keepApart') && run.undoable);
  if (latest) undo(latest.id);
}

/** How sure a group is, as odds: percents of what is nearly certain all look alike. */
const oddsOf = ({ group: { probability01 } }: MatchBoard) =>
  oddsInWords(Math.log2(probability01 / (1 - probability01)));

interface TabsProps {
  members: MatchBoard['members'];
  /** The record that is shown. */
  facing: number;
  onFace: (at: number) => void;
}

/** The records of a group, of which a telephone shows one at a time. */
function RecordTabs({ members, facing, onFace }: TabsProps) {
  return (
    <div role="group" aria-label="Record that is shown" className="mb-2 flex gap-1 overflow-x-auto">
      {members.map((member, i) => (
        <button
          key={member.id}
          type="button"
          aria-pressed={member.id === facing}
          className={
            `flex min-h-10 min-w-0 flex-1 items-center gap-1.5 border px-2 ` +
            `${member.id === facing ? 'border-ink bg-page font-semibold' : 'border-hair text-ink2'}`
          }
          onClick={() => onFace(i)}
        >
          {KEYS[i]} {member.thread ? <ThreadSwatch kind={member.thread.kind} /> : null}
          <span className="truncate">{member.thread?.name ?? member.name}</span>
        </button>
      ))}
    </div>
  );
}

interface LineProps {
  row: BoardRow;
  board: MatchBoard;
  /** The records that are shown beside what comes out. */
  visible: MatchBoard['members'];
  chosen: number | null;
  active: boolean;
  onActive: () => void;
  onChoose: (memberId: number) => void;
}

function BoardLine({ row, board, visible, chosen, active, onActive, onChoose }: LineProps) {
  const several = row.chosen === null;
  const picked = several ? row.result : (row.cells.find((cell) => cell.memberId === chosen)?.values ?? row.result);
  const result = picked.length ? picked : row.result;
  return (
    <tr className={active ? 'shadow-[inset_0_0_0_1.5px_var(--ink)]' : ''} onClick={onActive}>
      <th
        scope="row"
        className="border-b border-hair px-2.5 py-1.5 text-left align-top text-[12.5px] font-normal text-ink2"
      >
        {row.name}
      </th>
      <td className="woven border-x-2 border-b border-ink border-b-hair px-2.5 py-1.5 align-top font-semibold">
        {result.map((value) => (
          <span key={value.slot} className="block break-words">
            {showValue(row.field, value)}
          </span>
        ))}
      </td>
      {visible.map((member) => {
        const cell = row.cells.find((one) => one.memberId === member.id) ?? { memberId: member.id, values: [] };
        const lit = several ? cell.values.length > 0 : cell.memberId === chosen && cell.values.length > 0;
        const kind = member.thread?.kind ?? 'hand';
        return (
          <td
            key={cell.memberId}
            className={`border-b border-hair px-0 py-0 align-top ${lit ? 'bg-chosen' : ''}`}
            style={{ ...threadBorder(kind, 'left'), ...(lit ? threadBorder(kind, 'bottom') : {}) }}
          >
            {cell.values.length === 0 ? (
              <span className="block px-2.5 py-1.5 text-ink3">·</span>
            ) : (
              <button
                type="button"
                disabled={several}
                aria-pressed={lit}
                className={`block w-full px-2.5 py-1.5 text-left ${lit ? 'font-semibold' : ''}`}
                onClick={() => onChoose(cell.memberId)}
              >
                {cell.values.map((value) => (
                  <ValueLine key={value.slot} field={row.field} value={value} board={board} />
                ))}
              </button>
            )}
          </td>
        );
      })}
    </tr>
  );
}

function ValueLine({ field, value, board }: { field: string; value: Value; board: MatchBoard }) {
  const thread = board.threads[value.run];
  const at = value.atMs ?? (thread ? Date.parse(thread.at) : null);
  return (
    <span className="flex items-baseline gap-1.5" title={thread?.name}>
      <span className="min-w-0 flex-1 break-words">
        {field === 'photo' ? (
          <img src={`/api/pictures/${String(value.v)}`} alt={showValue(field, value)} className="max-h-16" />
        ) : (
          showValue(field, value)
        )}
      </span>
      {at ? <span className="shrink-0 text-[11.5px] font-normal text-ink3">{ago(at)}</span> : null}
    </span>
  );
}
