import { useMutation, useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { ConnectionDetail, SharedPlaces } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { Button, Fault, Heading } from '../../ui/controls';
import { count } from '../../ui/when';

type Person = SharedPlaces['places'][number]['waiting'][number];

const Name = ({ person: { contactId, name } }: { person: Person }) => (
  <Link className="hover:underline" to={`/contacts/${contactId}`}>
    {name}
  </Link>
);

/** Addresses that several people have, where the tool has one record for each: whose it is, and a word to give it to another. */
export function SharedAddresses({ connection: { id, capabilities } }: { connection: ConnectionDetail }) {
  const touch = useTouch();
  const { data } = useQuery({
    queryKey: keys.sharedPlaces(id),
    queryFn: () => api.get<SharedPlaces>(`/connections/${id}/shared`),
    enabled: capabilities.oneFor !== undefined,
  });
  const give = useMutation({
    mutationFn: (asked: { place: string; contactId: number }) => api.post(`/connections/${id}/shared`, asked),
    onSettled: () => touch('syncs', 'run'),
  });
  if (!data?.total) return null;
  return (
    <section aria-label="Shared addresses">
      <Heading aside="one record over there for each address; what is known of its person is what it says">
        Shared addresses
      </Heading>
      <Fault error={give.error} onClose={() => give.reset()} />
      <table className="w-full table-fixed">
        <thead className="text-left text-[12.5px] text-ink2">
          <tr className="border-b border-strong">
            <th className="w-[34%] py-1 font-normal">Address</th>
            <th className="w-[24%] font-normal">Has the record</th>
            <th className="font-normal">Not over there</th>
          </tr>
        </thead>
        <tbody>
          {data.places.map(({ place, holder, asked, waiting }) => (
            <tr key={place} className="border-b border-hair align-baseline">
              <td className="truncate py-1 pr-2" title={place}>
                {place}
              </td>
              <td className="truncate pr-2">
                {holder ? (
                  <Name person={holder} />
                ) : asked ? (
                  <Link className="link" to="/syncs/conflicts">
                    asked who it is
                  </Link>
                ) : (
                  <span className="text-alarm">nobody yet: say who</span>
                )}
              </td>
              <td>
                <ul>
                  {waiting.map((person) => (
                    <li key={person.contactId} className="flex items-baseline gap-2">
                      <span className="min-w-0 truncate">
                        <Name person={person} />
                      </span>
                      {asked ? null : (
                        <Button
                          kind="quiet"
                          needs="editor"
                          wholeBook
                          busy={give.isPending && give.variables.contactId === person.contactId}
                          onClick={() => give.mutate({ place, contactId: person.contactId })}
                          aria-label={`Give the record of ${place} to ${person.name}`}
                        >
                          Give it to them
                        </Button>
                      )}
                    </li>
                  ))}
                </ul>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {data.total > data.places.length ? (
        <p className="py-1 text-ink2">
          The first {count(data.places.length)} of {count(data.total)}.
        </p>
      ) : null}
    </section>
  );
}
