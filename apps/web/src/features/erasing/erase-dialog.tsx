import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Erasure } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { Button, Failed, Fault, Loading } from '../../ui/controls';
import { Modal } from '../../ui/modal';
import { count } from '../../ui/when';

const many = (n: number, one: string, more: string) => `${count(n)} ${n === 1 ? one : more}`;
const listed = (names: readonly string[]) =>
  names.length < 2 ? (names[0] ?? '') : `${names.slice(0, -1).join(', ')} and ${names[names.length - 1]}`;

/** What goes, a line each. */
function goes({ values, changes, records, activities, files, heldRows, permissions, cameIn }: Erasure): string[] {
  return [
    `${many(values, 'value', 'values')}, and the content of ${many(changes, 'change', 'changes')} in the history`,
    records
      ? many(records, 'more record: merged into it, or about it', 'more records: merged into it, or about it')
      : '',
    activities ? `${many(activities, 'entry', 'entries')} of activity` : '',
    files ? many(files, 'file', 'files') : '',
    permissions
      ? `How and where ${many(permissions, 'permission was', 'permissions were')} given; a stop stays in force`
      : '',
    heldRows ? `${many(heldRows, 'held row', 'held rows')}` : '',
    cameIn.length
      ? `The content of ${listed(cameIn)}: what became of the rows is kept, but ` +
        `the ${cameIn.length === 1 ? 'file' : 'files'} cannot be read or downloaded again`
      : '',
  ].filter(Boolean);
}

/** Asks once more before a contact is erased for good, and says what that takes. */
export function EraseDialog({ id, onClose }: { id: number; onClose: () => void }) {
  const [reason, setReason] = useState('');
  const touch = useTouch();
  const look = useQuery({ queryKey: keys.erasure(id), queryFn: () => api.get<Erasure>(`/contacts/${id}/erasure`) });
  const erase = useMutation({
    mutationFn: () => api.post(`/contacts/${id}/erase`, { reason }),
    onSuccess: async () => {
      onClose();
      await touch('contacts', 'groups', 'intakes', 'held', 'syncs', 'setup', 'run');
    },
  });
  return (
    <Modal title={look.data ? `Erase ${look.data.name} for good` : 'Erase for good'} onClose={onClose} width={560}>
      {look.isPending ? <Loading what="what is held" /> : null}
      {look.isLoadingError ? <Failed error={look.error} retry={() => void look.refetch()} /> : null}
      {look.data?.waits ? (
        <p role="alert" className="text-alarm">
          {look.data.waits.name} holds this person too, and is not in yet.{' '}
          <Link className="link" to={`/intake/${look.data.waits.id}`}>
            Bring it in or drop it
          </Link>{' '}
          first.
        </p>
      ) : null}
      {look.data && !look.data.waits ? (
        <form
          className="grid gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            if (reason.trim() && !erase.isPending) erase.mutate();
          }}
        >
          <p>
            For somebody who asks to be forgotten. <strong>It cannot be taken back.</strong>
          </p>
          <section aria-label="What goes">
            <h3 className="font-semibold">This goes</h3>
            <ul className="list-disc pl-5">
              {goes(look.data).map((line) => (
                <li key={line}>{line}</li>
              ))}
            </ul>
          </section>
          <section aria-label="What stays">
            <h3 className="font-semibold">This stays</h3>
            <ul className="list-disc pl-5">
              <li>That there was a contact, and which fields changed when, without what stood in them</li>
              {look.data.connections.length ? (
                <li>
                  The record in {listed(look.data.connections)}: it is not taken in again, but has to be removed over
                  there
                </li>
              ) : null}
              {look.data.alike.map((other) => (
                <li key={other.id}>
                  <Link className="link" to={`/contacts/${other.id}`} onClick={onClose}>
                    {other.name}
                  </Link>
                  {other.deleted ? ', deleted,' : ''} with the same e-mail: open and erase that too, if it is the same
                  person
                </li>
              ))}
              <li>Copies outside Gray Loom, such as back-ups and exports, for as long as you keep them</li>
            </ul>
          </section>
          <p className="text-ink2">
            Afterwards nobody brings this person back: not by hand, by a file or by a connection, until an administrator
            lifts that under Settings, Erased people.
          </p>
          <label className="grid gap-1">
            <span className="text-ink2">How they asked for it, and when; without their name</span>
            <input
              className="field"
              maxLength={500}
              required
              placeholder="By letter of 12 May"
              value={reason}
              onChange={(event) => setReason(event.target.value)}
            />
          </label>
          <Fault error={erase.error} onClose={() => erase.reset()} />
          <div className="flex gap-2">
            <Button type="submit" kind="danger" disabled={!reason.trim()} busy={erase.isPending}>
              Erase for good
            </Button>
            <Button onClick={onClose}>Keep the contact</Button>
          </div>
        </form>
      ) : null}
    </Modal>
  );
}
