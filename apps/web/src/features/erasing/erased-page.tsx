import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import type { ErasedPeople } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { Button, Failed, Fault, Heading, Loading } from '../../ui/controls';
import { count, When } from '../../ui/when';

/** People who were erased on request and are kept out; each can be let in again. */
export function ErasedPage() {
  const erased = useQuery({ queryKey: keys.erased(), queryFn: () => api.get<ErasedPeople>('/erased') });
  if (erased.isPending) return <Loading what="who was erased" />;
  if (erased.isLoadingError) return <Failed error={erased.error} retry={() => void erased.refetch()} />;
  return (
    <div className="h-full overflow-y-auto px-5 py-4">
      <Heading aside={count(erased.data.length)}>Erased people</Heading>
      <p className="max-w-2xl py-1.5 text-ink2">
        Who they were is not kept: only keyed hashes of their mailboxes, and of phones, numbers and birthdays together
        with the name. Whoever comes by hand, by a file or from a connection and is one of them is kept out, and that is
        said.
      </p>
      {erased.data.length === 0 ? <p className="py-2 text-ink2">Nobody was erased.</p> : null}
      <ul>
        {erased.data.map((one) => (
          <ErasedRow key={one.id} erased={one} />
        ))}
      </ul>
    </div>
  );
}

function ErasedRow({ erased: { id, contactId, reason, by, at } }: { erased: ErasedPeople[number] }) {
  const [asks, setAsks] = useState(false);
  const touch = useTouch();
  const lift = useMutation({
    mutationFn: () => api.post(`/erased/${id}/lift`),
    onSuccess: () => touch('setup', 'syncs'),
  });
  return (
    <li className="border-b border-hair py-2">
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <span className="min-w-0 flex-1 basis-60">{reason}</span>
        <span className="text-ink2">
          <When at={at} /> ago{by ? `, by ${by}` : ''}
        </span>
        {contactId ? (
          <Link className="link" to={`/contacts/${contactId}`}>
            what is left
          </Link>
        ) : null}
        {asks ? null : <Button onClick={() => setAsks(true)}>Let in again</Button>}
      </div>
      {asks ? (
        <div className="mt-1.5 flex flex-wrap items-center gap-3 bg-wash px-3 py-2">
          <span>Nothing comes back by it. If they come again, they are taken in like anybody new.</span>
          <Button kind="action" busy={lift.isPending} onClick={() => lift.mutate()}>
            Let them in again
          </Button>
          <Button onClick={() => setAsks(false)}>Keep them out</Button>
        </div>
      ) : null}
      <Fault error={lift.error} onClose={() => lift.reset()} />
    </li>
  );
}
