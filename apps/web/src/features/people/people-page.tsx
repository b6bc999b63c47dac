import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import {
  type Account,
  type AccountRole,
  type Handed,
  type Invitation,
  type InviteLink,
  type People,
  type Remit,
  type Stranger,
} from '@gray-loom/wire';
import { api } from '../../app/api';
import { AccountSheet } from './account-sheet';
import { keys, useTouch } from '../../app/keys';
import { Button, Failed, Heading, Loading } from '../../ui/controls';
import { SplitView } from '../../ui/split-view';
import { count, When } from '../../ui/when';
import { Face } from './face';
import { LinkShown } from './link-shown';
import { GivingForm } from './giving';
import { RemitForm, remitInWords } from './remit-form';
import { RoleSelect } from './role-select';

/** Who has an account here, who is invited, and the sheet of the one that is picked. */
export function PeoplePage() {
  const [params, setParams] = useSearchParams();
  const people = useQuery({ queryKey: keys.people(), queryFn: () => api.get<People>('/people') });
  if (people.isPending) return <Loading what="the accounts" />;
  if (people.isLoadingError) return <Failed error={people.error} retry={() => void people.refetch()} />;
  const { accounts, invitations, strangers } = people.data;
  const here = accounts.filter(({ retiredAt }) => !retiredAt);
  const retired = accounts.filter(({ retiredAt }) => retiredAt);
  const picked = accounts.find(({ id }) => String(id) === params.get('account'));
  const pick = (id: number | null) => setParams(id ? { account: String(id) } : {}, { replace: true });
  return (
    <SplitView
      list={
        <div className="min-h-0 flex-1 space-y-5 overflow-y-auto px-5 py-4">
          <section>
            <Heading aside={here.length}>People</Heading>
            <AccountLines accounts={here} picked={picked} onPick={pick} />
            <InviteForm accounts={here} />
          </section>
          {invitations.length ? (
            <section>
              <Heading aside={invitations.length}>Invited</Heading>
              <ul>
                {invitations.map((one) => (
                  <InvitationLine key={one.id} invitation={one} />
                ))}
              </ul>
            </section>
          ) : null}
          {strangers.length ? <Strangers strangers={strangers} accounts={here} /> : null}
          {here.length > 1 ? (
            <section>
              <Heading>Giving out</Heading>
              <GivingForm accounts={here} />
            </section>
          ) : null}
          {retired.length ? (
            <section>
              <Heading aside={retired.length}>Retired</Heading>
              <AccountLines accounts={retired} picked={picked} onPick={pick} />
            </section>
          ) : null}
        </div>
      }
      sheet={picked ? <AccountSheet key={picked.id} account={picked} others={here} onClose={() => pick(null)} /> : null}
    />
  );
}

/** Owners as files and tools wrote them, each to be said which account it is. */
function Strangers({ strangers, accounts }: { strangers: readonly Stranger[]; accounts: readonly Account[] }) {
  return (
    <section>
      <Heading aside={strangers.length}>Owners that are no account</Heading>
      <p className="py-1 text-ink2">
        Say who each is; their contacts and what is known of files follow, as a run that can be undone.
      </p>
      <ul>
        {strangers.map((one) => (
          <StrangerLine key={one.name} stranger={one} accounts={accounts} />
        ))}
      </ul>
    </section>
  );
}

function StrangerLine({ stranger, accounts }: { stranger: Stranger; accounts: readonly Account[] }) {
  const touch = useTouch();
  const [to, setTo] = useState(stranger.likely === null ? '' : String(stranger.likely));
  const match = useMutation({
    mutationFn: () => api.post<Handed>('/people/owners', { name: stranger.name, to: Number(to) }),
    onSettled: () => touch('setup', 'contacts', 'run'),
  });
  return (
    <li className="flex flex-wrap items-center gap-3 border-b border-hair py-1.5">
      <span className="min-w-0 flex-1 truncate">
        {stranger.name} <span className="text-ink2">owns {count(stranger.owns)}</span>
      </span>
      <select
        aria-label={`Who ${stranger.name} is`}
        className="field"
        value={to}
        onChange={(event) => setTo(event.target.value)}
      >
        <option value="">choose an account</option>
        {accounts.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
            {id === stranger.likely ? ', most likely' : ''}
          </option>
        ))}
      </select>
      <Button busy={match.isPending} disabled={!to} onClick={() => match.mutate()}>
        That is who
      </Button>
      {match.error ? (
        <p role="alert" className="w-full text-alarm">
          {match.error.message}
        </p>
      ) : null}
    </li>
  );
}

interface LinesProps {
  accounts: readonly Account[];
  picked: Account | undefined;
  onPick: (id: number) => void;
}

function AccountLines({ accounts, picked, onPick }: LinesProps) {
  return (
    <ul>
      {accounts.map((one) => (
        <li key={one.id}>
          <button
            type="button"
            aria-current={one === picked || undefined}
            className={
              `grid w-full grid-cols-[28px_minmax(0,1.2fr)_minmax(0,1fr)_minmax(0,1fr)] items-center gap-3 border-b border-hair py-1.5 ` +
              `text-left ${one === picked ? 'bg-picked' : 'hover:bg-cloth'}`
            }
            onClick={() => onPick(one.id)}
          >
            <Face name={one.name} picture={one.picture} />
            <span className="min-w-0">
              <span className="block truncate font-semibold">{one.name}</span>
              <span className="block truncate text-[12.5px] text-ink2">{one.email}</span>
            </span>
            <span className="truncate text-ink2">
              {one.role}
              {one.secondFactor ? ' · second factor' : ''}
              {one.remit ? (
                <span className="block truncate text-[12.5px]" title={remitInWords(one.remit)}>
                  {one.within === null ? '' : `sees ${count(one.within)}: `}
                  {remitInWords(one.remit)}
                </span>
              ) : null}
            </span>
            <span className="truncate text-right text-[12.5px] text-ink2">
              {one.owns ? `owns ${count(one.owns)} · ` : ''}
              {one.seenAt ? (
                <>
                  here <When at={one.seenAt} /> ago
                </>
              ) : (
                'not signed in'
              )}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}

function InviteForm({ accounts }: { accounts: readonly Account[] }) {
  const touch = useTouch();
  const [name, setName] = useState('');
  const [email, setEmail] = useState('');
  const [role, setRole] = useState<AccountRole>('editor');
  const [remit, setRemit] = useState<Remit | null>(null);
  const invite = useMutation({
    mutationFn: () => api.post<InviteLink>('/people/invitations', { name, email, role, remit }),
    onSuccess: () => touch('setup'),
  });
  if (invite.data)
    return (
      <div className="mt-3">
        <LinkShown
          link={invite.data}
          to={name}
          onDone={() => {
            setName('');
            setEmail('');
            setRemit(null);
            invite.reset();
          }}
        />
      </div>
    );
  return (
    <form
      noValidate
      className="mt-3 flex flex-wrap items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        invite.mutate();
      }}
    >
      <input
        aria-label="Name of whom to invite"
        placeholder="Name"
        className="field w-44"
        maxLength={80}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <input
        aria-label="E-mail of whom to invite"
        placeholder="E-mail"
        type="email"
        className="field w-56"
        maxLength={254}
        value={email}
        onChange={(event) => setEmail(event.target.value)}
      />
      <RoleSelect
        value={role}
        onChange={(next) => {
          setRole(next);
          if (next === 'administrator') setRemit(null);
        }}
      />
      {role === 'administrator' ? null : (
        <div className="w-full">
          <RemitForm value={remit} onChange={setRemit} accounts={accounts} ownName={name} />
        </div>
      )}
      <Button type="submit" kind="action" busy={invite.isPending}>
        Make a link to invite
      </Button>
      {invite.error ? (
        <p role="alert" className="w-full text-alarm">
          {invite.error.message}
        </p>
      ) : null}
    </form>
  );
}

function InvitationLine({ invitation }: { invitation: Invitation }) {
  const touch = useTouch();
  const takeBack = useMutation({
    mutationFn: () => api.delete(`/people/invitations/${invitation.id}`),
    onSettled: () => touch('setup'),
  });
  return (
    <li className="flex flex-wrap items-baseline gap-x-3 gap-y-1 border-b border-hair py-1.5">
      <span className="min-w-40 flex-1 truncate">
        {invitation.name} <span className="text-ink2">{invitation.email}</span>
      </span>
      <span className="text-[12.5px] text-ink2">
        {invitation.isReset ? 'new password' : invitation.role}
        {invitation.remit ? ` for ${remitInWords(invitation.remit)}` : ''}, by {invitation.madeBy || 'nobody'}, good for{' '}
        <When at={invitation.expiresAt} />
      </span>
      <Button busy={takeBack.isPending} onClick={() => takeBack.mutate()}>
        Take back
      </Button>
    </li>
  );
}
