import { keys } from '../../app/keys';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Opportunity } from '@gray-loom/wire';
import { showValue } from '@gray-loom/core/fields';
import { api } from '../../app/api';
import { usePipelines } from '../../app/lists';
import { Failed } from '../../ui/controls';
import { addUp, sumsInWords } from './money';
import { OpportunityForm } from './opportunity-form';

/** The opportunities of a contact, on its sheet. */
export function OpportunitySection({ contactId, readOnly }: { contactId: number; readOnly: boolean }) {
  const [adding, setAdding] = useState(false);
  const found = useQuery({
    queryKey: keys.opportunities('of', contactId),
    queryFn: () => api.get<Opportunity[]>(`/contacts/${contactId}/opportunities`),
  });
  const pipelines = usePipelines();
  const open = found.data?.filter(({ outcome }) => outcome === 'open') ?? [];
  const sum = sumsInWords(addUp(open.map(({ value }) => value)));
  return (
    <section className="mt-5" aria-label="Opportunities">
      <h3 className="flex items-baseline border-b border-strong pb-1 font-semibold">
        Opportunities
        {sum ? <span className="ml-2 font-normal text-ink2">{sum} open</span> : null}
        {readOnly || adding ? null : (
          <button
            type="button"
            className="ml-auto font-normal text-ink2 hover:text-ink"
            onClick={() => setAdding(true)}
          >
            + opportunity
          </button>
        )}
      </h3>
      {found.error ? <Failed error={found.error} retry={() => void found.refetch()} /> : null}
      {adding && pipelines.data ? (
        <OpportunityForm
          contactId={contactId}
          pipelines={pipelines.data}
          opportunity={null}
          onDone={() => setAdding(false)}
        />
      ) : null}
      {found.data?.length === 0 && !adding ? <p className="py-1 text-ink3">None yet.</p> : null}
      <ul>
        {found.data?.map((one) => (
          <li key={one.id} className="flex items-baseline gap-3 border-b border-hair py-1">
            <Link to={`/opportunities/${one.id}`} className="min-w-0 truncate hover:underline">
              {one.name}
            </Link>
            <span className={`text-[12.5px] ${one.outcome === 'open' ? 'text-ink2' : 'font-semibold'}`}>
              {one.stage}
            </span>
            <span className="ml-auto whitespace-nowrap text-ink2">
              {one.value ? showValue('opportunityValue', { v: one.value }) : ''}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
