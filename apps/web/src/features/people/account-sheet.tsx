import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import type { Account, AccountRole, Handed, InviteLink, Remit } from '@gray-loom/wire';
import { api } from '../../app/api';
import { useTouch } from '../../app/keys';
import { Button, Fault } from '../../ui/controls';
import { SheetHead } from '../../ui/sheet-head';
import { count, When } from '../../ui/when';
import { Face } from './face';
import { LinkShown } from './link-shown';
import { RemitForm } from './remit-form';
import { RoleSelect } from './role-select';
import { SessionList } from './session-list';

interface SheetProps {
  account: Account;
  others: readonly Account[];
  onClose: () => void;
}

/** One account: name, role, password, where it is signed in, and its end. */
export function AccountSheet({ account, others, onClose }: SheetProps) {
  const touch = useTouch();
  const settled = () => touch('setup', 'contacts', 'run');
  const [remit, setRemit] = useState(account.remit);
  const [name, setName] = useState(account.name);
  const change = useMutation({
    mutationFn: (changes: { name?: string; role?: AccountRole; remit?: Remit | null }) =>
      api.patch<Handed>(`/people/${account.id}`, changes),
    onSettled: settled,
  });
  const reset = useMutation({
    mutationFn: (secondFactor: boolean) => api.post<InviteLink>(`/people/${account.id}/reset`, { secondFactor }),
    onSuccess: settled,
  });
  const back = useMutation({
    mutationFn: () => api.post(`/people/${account.id}/bring-back`),
    onSettled: settled,
  });
  const error = change.error ?? reset.error ?? back.error;
  return (
    <article className="space-y-5 px-4.5 py-3.5">
      <SheetHead title={account.name} before={<Face name={account.name} picture={account.picture} />} onClose={onClose}>
        <span className="text-ink2">{account.retiredAt ? 'retired' : account.role}</span>
      </SheetHead>
      <Fault error={error} onClose={() => [change, reset, back].forEach((one) => one.reset())} />
      {account.retiredAt ? (
        <section className="space-y-2">
          <p>
            Retired <When at={account.retiredAt} /> ago: it can sign in no more.
            {account.owns ? ` It still owns ${count(account.owns)} contacts.` : ''}
          </p>
          <Button busy={back.isPending} onClick={() => back.mutate()}>
            Bring the account back
          </Button>
        </section>
      ) : (
        <>
          <form
            className="flex gap-2"
            onSubmit={(event) => {
              event.preventDefault();
              change.mutate({ name });
            }}
          >
            <input
              aria-label="Name of the account"
              className="field min-w-0 flex-1"
              maxLength={80}
              value={name}
              onChange={(event) => setName(event.target.value)}
            />
            <Button type="submit" busy={change.isPending} disabled={!name.trim() || name === account.name}>
              Rename
            </Button>
          </form>
          <section className="space-y-1">
            <h3 className="font-semibold">Role</h3>
            <RoleSelect value={account.role} onChange={(role) => change.mutate({ role })} />
          </section>
          <section className="space-y-1.5">
            <h3 className="font-semibold">Sees and changes</h3>
            {account.role === 'administrator' ? (
              <p className="text-ink2">Everybody; an administrator manages the workspace.</p>
            ) : (
              <>
                <RemitForm value={remit} onChange={setRemit} accounts={others} ownName={account.name} />
                {JSON.stringify(remit) === JSON.stringify(account.remit) ? null : (
                  <div className="flex gap-2">
                    <Button kind="action" busy={change.isPending} onClick={() => change.mutate({ remit })}>
                      Save what {account.name} sees
                    </Button>
                    <Button kind="quiet" onClick={() => setRemit(account.remit)}>
                      As it was
                    </Button>
                  </div>
                )}
              </>
            )}
          </section>
          <section className="space-y-1.5">
            <h3 className="font-semibold">Password{account.secondFactor ? ' and second factor' : ''}</h3>
            {reset.data ? (
              <LinkShown link={reset.data} to={account.name} onDone={() => reset.reset()} />
            ) : (
              <div className="flex flex-wrap gap-2">
                <Button busy={reset.isPending} onClick={() => reset.mutate(false)}>
                  Make a link for a new password
                </Button>
                {account.secondFactor ? (
                  <Button
                    busy={reset.isPending}
                    title="For whoever has lost the authenticator and the recovery codes"
                    onClick={() => reset.mutate(true)}
                  >
                    The same, and take the second factor off
                  </Button>
                ) : null}
              </div>
            )}
          </section>
          <section>
            <h3 className="font-semibold">Signed in</h3>
            <SessionList at={`/people/${account.id}/sessions`} />
          </section>
          <Retire account={account} others={others} onDone={settled} />
        </>
      )}
    </article>
  );
}

/** Retiring an account, with whoever gets what it owns. */
function Retire({
  account,
  others,
  onDone,
}: {
  account: Account;
  others: readonly Account[];
  onDone: () => Promise<void>;
}) {
  const [asked, setAsked] = useState(false);
  const [handTo, setHandTo] = useState('');
  const retire = useMutation({
    mutationFn: () => api.post<Handed>(`/people/${account.id}/retire`, { handTo: handTo ? Number(handTo) : null }),
    onSettled: onDone,
  });
  if (!asked)
    return (
      <Button kind="danger" onClick={() => setAsked(true)}>
        Retire the account…
      </Button>
    );
  return (
    <section className="space-y-2 border border-strong p-3" aria-label="Retire the account">
      <p>
        {account.name} is signed out at once and can sign in no more. What {account.name} did keeps the name.
      </p>
      <label className="block">
        <span className="text-ink2">
          {account.owns === 1 ? 'One contact goes' : `${count(account.owns)} contacts go`} to
        </span>
        <select className="field mt-1 w-full" value={handTo} onChange={(event) => setHandTo(event.target.value)}>
          <option value="">nobody; they keep {account.name} as their owner</option>
          {others
            .filter(({ id }) => id !== account.id)
            .map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
        </select>
      </label>
      {retire.error ? (
        <p role="alert" className="text-alarm">
          {retire.error.message}
        </p>
      ) : null}
      <div className="flex gap-2">
        <Button kind="danger" busy={retire.isPending} onClick={() => retire.mutate()}>
          Retire {account.name}
        </Button>
        <Button kind="quiet" onClick={() => setAsked(false)}>
          Leave it
        </Button>
      </div>
    </section>
  );
}
