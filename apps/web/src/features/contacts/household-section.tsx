import { useTouch } from '../../app/keys';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import type { ContactDetail } from '@gray-loom/wire';
import { api } from '../../app/api';
import { ContactPicker } from './contact-picker';

/** Who lives with a contact and gets one letter with it; and how it comes to be so by hand. */
export function HouseholdSection({ contact, readOnly }: { contact: ContactDetail; readOnly: boolean }) {
  const touch = useTouch();
  const [adding, setAdding] = useState(false);
  const { id, household } = contact;
  const change = useMutation({
    mutationFn: (memberIds: readonly number[]) => {
      // One alone is no household any more.
      if (household && memberIds.length < 2) return api.delete(`/households/${household.id}`);
      return household
        ? api.put(`/households/${household.id}`, { memberIds, name: household.named ? household.name : '' })
        : api.post('/households', { memberIds, name: '' });
    },
    onSuccess: () => setAdding(false),
    onSettled: () => touch('groups', 'run'),
  });
  if (!household && readOnly) return null;
  const members = household?.members ?? [];
  const idsWithout = (gone: number) => members.map((one) => one.id).filter((one) => one !== gone);
  return (
    <section className="mt-5">
      <h3 className="flex border-b border-strong pb-1 font-semibold">
        Household
        {household ? <span className="ml-auto font-normal text-ink2">{household.name}</span> : null}
      </h3>
      {change.error ? (
        <p role="alert" className="mt-1 text-alarm">
          {change.error.message}
        </p>
      ) : null}
      <ul>
        {members.map((member) => (
          <li key={member.id} className="flex border-b border-hair py-1">
            {member.id === id ? (
              <span>{member.name}</span>
            ) : (
              <Link className="link min-h-6" to={`/contacts/${member.id}`}>
                {member.name}
              </Link>
            )}
            {readOnly ? null : (
              <button
                type="button"
                aria-label={`Take ${member.name} out of the household`}
                className="ml-auto text-ink2 hover:text-ink disabled:opacity-50"
                disabled={change.isPending}
                onClick={() => change.mutate(idsWithout(member.id))}
              >
                Take out
              </button>
            )}
          </li>
        ))}
      </ul>
      {readOnly ? null : adding ? (
        <div
          className="mt-1.5"
          onKeyDown={(event) => {
            if (event.key === 'Escape') setAdding(false);
          }}
        >
          <ContactPicker
            label="Who lives with them"
            exceptId={id}
            autoFocus
            onChoose={(other) =>
              change.mutate([...new Set([...(household ? members.map((one) => one.id) : [id]), other.id])])
            }
          />
        </div>
      ) : (
        <button type="button" className="mt-1.5 text-ink2 hover:text-ink" onClick={() => setAdding(true)}>
          {household ? '+ somebody who lives there' : '+ somebody who lives with them'}
        </button>
      )}
    </section>
  );
}
