import { keys } from './keys';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { NavLink, Outlet, useLocation, useNavigate, useSearchParams } from 'react-router';
import type { SessionInfo, Worklist } from '@gray-loom/wire';
import { NewContact } from '../features/contacts/new-contact';
import { Button, Failed, Kbd, Loading } from '../ui/controls';
import { count } from '../ui/when';
import { api, Refused } from './api';
import { useKeyboard, useShortcut } from './keyboard';
import { Mark } from './mark';
import { listenToServer } from './query-client';
import { ShortcutList } from './shortcut-list';
import { Reminders } from '../features/activity/reminders';
import { remitInWords } from '../features/people/remit-form';
import { FirstAccountPage } from '../features/people/first-account';
import { SignInPage } from './sign-in';
import { Tape } from './tape';

const syncsWaiting = ({ syncs }: Worklist) => syncs.conflicts + syncs.braked.length + syncs.troubled.length;

const SECTIONS: { to: string; name: string; waiting: (w: Worklist) => number; also?: string }[] = [
  {
    to: '/worklist',
    name: 'Worklist',
    waiting: (w) => w.certain + w.likely + w.held.total + w.failed.length + syncsWaiting(w),
  },
  { to: '/contacts', name: 'Contacts', waiting: () => 0, also: '/opportunities' },
  { to: '/segments', name: 'Segments', waiting: () => 0 },
  { to: '/intake', name: 'Intake', waiting: (w) => w.held.total },
  { to: '/duplicates', name: 'Duplicates', waiting: (w) => w.certain + w.likely + w.possible },
  { to: '/syncs', name: 'Syncs', waiting: syncsWaiting },
  { to: '/ledger', name: 'Ledger', waiting: () => 0 },
  { to: '/settings', name: 'Settings', waiting: () => 0 },
];

const CURRENT =
  'font-bold text-ink after:absolute after:inset-x-2 after:bottom-0 after:border-b-[3px] after:border-dashed after:border-ink';

/** Top line, the section, the tape; or the way in for whoever is not signed in. */
export function Frame() {
  const session = useQuery({
    queryKey: keys.session(),
    queryFn: () => api.get<SessionInfo>('/session'),
    retry: false,
    staleTime: 60_000,
  });
  if (session.isPending) return <Loading what="Gray Loom" />;
  if (session.error) {
    return session.error instanceof Refused && session.error.problem.status === 401 ? (
      session.error.problem.code === 'noAccounts' ? (
        <FirstAccountPage />
      ) : (
        <SignInPage />
      )
    ) : (
      <Failed error={session.error} retry={() => void session.refetch()} />
    );
  }
  return <SignedIn actor={session.data} />;
}

function SignedIn({ actor }: { actor: SessionInfo }) {
  const [adding, setAdding] = useState(false);
  const [listing, setListing] = useState(false);
  useKeyboard();
  useEffect(listenToServer, []);
  useShortcut('n', 'New contact', 'Everywhere', () => setAdding(true), { needs: 'editor' });
  useShortcut('?', 'List the shortcuts', 'Everywhere', () => setListing(true));
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[44px_minmax(0,1fr)_auto_30px]">
      <TopLine onAdd={() => setAdding(true)} actor={actor} />
      <main className="min-h-0 overflow-hidden">
        <Outlet />
      </main>
      <div>
        <Reminders />
      </div>
      <Tape />
      {adding ? <NewContact onClose={() => setAdding(false)} /> : null}
      {listing ? <ShortcutList onClose={() => setListing(false)} /> : null}
    </div>
  );
}

function TopLine({ onAdd, actor }: { onAdd: () => void; actor: SessionInfo }) {
  const { pathname } = useLocation();
  const { data } = useQuery({ queryKey: keys.worklist(), queryFn: () => api.get<Worklist>('/worklist') });
  return (
    <header className="flex items-center gap-1 border-b border-strong bg-ground px-3.5">
      <span className="mr-3 flex items-center gap-2.5 font-bold tracking-tight whitespace-nowrap max-xl:mr-1 max-sm:mr-0">
        <Mark /> <span className="max-xl:hidden">Gray Loom</span>
      </span>
      <nav aria-label="Sections" className="flex h-full min-w-0 items-stretch overflow-x-auto">
        {SECTIONS.map(({ to, name, waiting, also }) => (
          <NavLink
            key={to}
            to={to}
            className={({ isActive }) =>
              `relative flex items-center gap-1.5 px-2.5 max-xl:gap-1 max-xl:px-1.5 whitespace-nowrap hover:text-ink ` +
              (isActive || (also && pathname.startsWith(also)) ? CURRENT : 'text-ink2')
            }
          >
            {name}
            {data && waiting(data) > 0 ? (
              <span className="text-[12px] font-normal text-ink2">{count(waiting(data))}</span>
            ) : null}
          </NavLink>
        ))}
      </nav>
      <div className="ml-auto flex shrink-0 items-center gap-2.5 max-sm:gap-1.5">
        <FindBox />
        <Button needs="editor" kind="action" onClick={onAdd} aria-label="New contact">
          <span className="max-sm:hidden">New contact</span>
          <span className="sm:hidden" aria-hidden>
            +
          </span>
          <span className="max-sm:hidden">
            <Kbd dim>n</Kbd>
          </span>
        </Button>
        <NavLink
          to="/settings/you"
          className="text-[12px] text-ink2 hover:text-ink max-xl:hidden"
          title={`${actor.email}: your account${actor.remit ? `; you see ${remitInWords(actor.remit)}` : ''}`}
        >
          {actor.name}
          {actor.remit ? <span className="block text-ink3">part of the book</span> : null}
        </NavLink>
      </div>
    </header>
  );
}

const PAUSE_MS = 180;

/** Find as you type; what is typed stands in the address bar. */
function FindBox() {
  const navigate = useNavigate();
  const location = useLocation();
  const [params] = useSearchParams();
  const inContacts = location.pathname.startsWith('/contacts');
  const asked = inContacts ? (params.get('find') ?? '') : '';
  const [typed, setTyped] = useState(asked);
  const [seen, setSeen] = useState(asked);
  const input = useRef<HTMLInputElement>(null);
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  // Back, forward and a sent link change what is asked from outside.
  if (asked !== seen) {
    setSeen(asked);
    setTyped(asked);
  }
  useShortcut('/', 'Find anyone', 'Everywhere', () => input.current?.select());
  const go = (text: string) => {
    const next = new URLSearchParams(inContacts ? params : undefined);
    if (text) next.set('find', text);
    else next.delete('find');
    setSeen(text);
    void navigate({ pathname: '/contacts', search: next.toString() }, { replace: inContacts });
  };
  return (
    <div className="relative">
      <input
        ref={input}
        type="search"
        aria-label="Find anyone"
        placeholder="Find anyone"
        value={typed}
        className="field w-52 pr-8 max-xl:w-36 max-sm:w-28"
        onChange={(event) => {
          const text = event.target.value;
          setTyped(text);
          clearTimeout(timer.current);
          timer.current = setTimeout(() => go(text.trim()), PAUSE_MS);
        }}
        onKeyDown={(event) => {
          if (event.key === 'Enter') {
            clearTimeout(timer.current);
            go(typed.trim());
          }
          if (event.key === 'Escape') {
            setTyped('');
            if (asked) go('');
            input.current?.blur();
          }
        }}
      />
      {typed ? null : (
        <span className="pointer-events-none absolute top-1/2 right-1.5 -translate-y-1/2">
          <Kbd>/</Kbd>
        </span>
      )}
    </div>
  );
}
