import { Link } from 'react-router';
import type { ConnectionDetail } from '@gray-loom/wire';
import { Heading } from '../../ui/controls';
import { count } from '../../ui/when';

type Records = ConnectionDetail['notTaken']['records'];

function Lines({ records }: { records: Records }) {
  return (
    <ul>
      {records.map((one) => (
        <li key={one.outsideId} className="flex gap-3 border-b border-hair py-1">
          <span className="w-52 shrink-0 truncate">
            {one.contactId ? (
              <Link className="hover:underline" to={`/contacts/${one.contactId}`}>
                {one.name}
              </Link>
            ) : (
              one.name || one.outsideId
            )}
          </span>
          <span className="min-w-0 text-ink2">{one.why}</span>
        </li>
      ))}
    </ul>
  );
}

/** Records that stand still: ours that are not taken over there, those over there that cannot be read, and of people who were erased. */
export function NotTaken({ data: { notTaken, keptOut } }: { data: ConnectionDetail }) {
  const { total, records } = notTaken;
  const unreadable = records.filter(({ isUnreadable }) => isUnreadable);
  const refused = records.filter(({ isUnreadable }) => !isUnreadable);
  if (!total && !keptOut.length) return null;
  return (
    <>
      {unreadable.length ? (
        <section>
          <Heading aside="left as they are until they are mended over there">Cannot be read</Heading>
          <Lines records={unreadable} />
        </section>
      ) : null}
      {refused.length ? (
        <section>
          <Heading aside="tried again with every run, and when the contact changes">Not taken over there</Heading>
          <Lines records={refused} />
        </section>
      ) : null}
      {keptOut.length ? (
        <section>
          <Heading aside="erased here on request; remove them over there">Kept out</Heading>
          <ul>
            {keptOut.map((outsideId) => (
              <li key={outsideId} className="border-b border-hair py-1">
                {outsideId}
              </li>
            ))}
          </ul>
        </section>
      ) : null}
      {total > records.length ? (
        <p className="text-ink2">
          The first {count(records.length)} of {count(total)}; the report of each run has all of them.
        </p>
      ) : null}
    </>
  );
}
