import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { GIVE_BY, type ContactFilter, type GiveBy, type HandedOver, type SessionInfo } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { useOwners } from '../../app/lists';
import { Button, Failed, Loading } from '../../ui/controls';
import { Modal } from '../../ui/modal';
import { count } from '../../ui/when';
import { Face } from './face';

interface HandOverProps {
  /** Whom it is about: single contacts, or all that a filter finds. */
  what: { ids: number[] } | { filter: Partial<ContactFilter> };
  /** What is handed over, in words: "Kari Pike", "these 1,204 people". */
  words: string;
  /** Who owns them now, where that is known. */
  owner?: string;
  onClose: () => void;
}

/** Hands contacts over to somebody, takes them on, or leaves them with nobody. */
export function HandOverDialog({ what, words, owner, onClose }: HandOverProps) {
  const touch = useTouch();
  const [to, setTo] = useState<number | GiveBy | null | undefined>(undefined);
  const session = useQuery({ queryKey: keys.session(), queryFn: () => api.get<SessionInfo>('/session') });
  const owners = useOwners();
  const hand = useMutation({
    mutationFn: () =>
      api.post<HandedOver>('/hand-over', typeof to === 'string' ? { give: to, ...what } : { to, ...what }),
    onSuccess: async () => {
      await touch('contacts', 'run', 'setup');
      onClose();
    },
  });
  const own = session.data?.accountId;
  return (
    <Modal title={`Hand over ${words}`} onClose={onClose}>
      {owners.isPending ? <Loading what="the accounts" /> : null}
      {owners.error ? <Failed error={owners.error} retry={() => void owners.refetch()} /> : null}
      <form
        onSubmit={(event) => {
          event.preventDefault();
          hand.mutate();
        }}
      >
        <fieldset className="max-h-80 overflow-y-auto">
          <legend className="sr-only">To whom</legend>
          {owners.data?.map((one) => (
            <Choice
              key={one.id}
              checked={to === one.id}
              disabled={one.name === owner}
              onChoose={() => setTo(one.id)}
              name={one.name}
            >
              <Face name={one.name} picture={one.picture} />
              <span className="flex-1">{one.id === own ? `${one.name}, yourself` : one.name}</span>
              {one.name === owner ? <span className="text-ink2">has it</span> : null}
            </Choice>
          ))}
          <Choice checked={to === null} disabled={owner === ''} onChoose={() => setTo(null)} name="nobody">
            <span className="flex-1 text-ink2">nobody</span>
          </Choice>
          {owner === undefined || owner === ''
            ? GIVE_BY.map((by) => (
                <Choice key={by} checked={to === by} disabled={false} onChoose={() => setTo(by)} name={GIVE_WORDS[by]}>
                  <span className="flex-1">{GIVE_WORDS[by]}</span>
                  <span className="text-ink2">those without an owner</span>
                </Choice>
              ))
            : null}
        </fieldset>
        {hand.error ? (
          <p role="alert" className="mt-2 text-alarm">
            {hand.error.message}
          </p>
        ) : null}
        <div className="mt-4 flex gap-2">
          <Button type="submit" kind="action" disabled={to === undefined} busy={hand.isPending}>
            {to === own ? 'Take on' : typeof to === 'string' ? 'Give out' : 'Hand over'}
          </Button>
          <Button kind="quiet" onClick={onClose}>
            Leave it
          </Button>
        </div>
      </form>
    </Modal>
  );
}

export const GIVE_WORDS: Record<GiveBy, string> = { inTurn: 'given out in turn', byArea: 'given out by area' };

interface ChoiceProps {
  name: string;
  checked: boolean;
  disabled: boolean;
  onChoose: () => void;
  children: React.ReactNode;
}

function Choice({ name, checked, disabled, onChoose, children }: ChoiceProps) {
  return (
    <label className="flex items-center gap-3 border-b border-hair py-1.5">
      <input type="radio" name="heir" aria-label={name} checked={checked} disabled={disabled} onChange={onChoose} />
      {children}
    </label>
  );
}

/** "these 1,204 people", "this person". */
export function peopleInWords(n: number, kind: 'person' | 'organization'): string {
  const [one, many] = kind === 'person' ? ['person', 'people'] : ['organization', 'organizations'];
  return n === 1 ? `this ${one}` : `these ${count(n)} ${many}`;
}
