import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { useNavigate } from 'react-router';
import type { LikelyMatch, Lists, NewContactRequest } from '@gray-loom/wire';
import { api, Refused } from '../../app/api';
import { Button } from '../../ui/controls';
import { Modal } from '../../ui/modal';

const FIELDS: { key: keyof NewContactRequest; name: string; type?: string }[] = [
  { key: 'givenName', name: 'Given name' },
  { key: 'familyName', name: 'Family name' },
  { key: 'email', name: 'E-mail', type: 'email' },
  { key: 'tel', name: 'Phone', type: 'tel' },
  { key: 'organization', name: 'Organization' },
];
const EMPTY: NewContactRequest = { givenName: '', familyName: '', email: '', tel: '', organization: '', source: '' };

/** One contact by hand; while one types, whoever it may already be is shown with reasons. */
export function NewContact({ onClose }: { onClose: () => void }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [fault, setFault] = useState<{ field: string | null; text: string } | null>(null);
  const { register, handleSubmit, control, formState } = useForm<NewContactRequest>({ defaultValues: EMPTY });
  const typed = useWatch({ control }) as NewContactRequest;
  const asked = useDeferredValue(JSON.stringify(typed));
  const enough = (typed.givenName && typed.familyName) || typed.email.includes('@') || typed.tel.length > 5;
  const matches = useQuery({
    queryKey: ['check', asked],
    queryFn: () => api.post<LikelyMatch[]>('/contacts/check', JSON.parse(asked)),
    enabled: !!enough,
    placeholderData: keepPreviousData,
    staleTime: 60_000,
  });
  const lists = useQuery({ queryKey: ['lists'], queryFn: () => api.get<Lists>('/lists') });
  const open = (id: number) => {
    onClose();
    void navigate(`/contacts/${id}`);
  };
  const save = handleSubmit(async (values) => {
    setFault(null);
    try {
      const { contactId } = await api.post<{ contactId: number }>('/contacts', values);
      await client.invalidateQueries({ queryKey: ['contacts'] });
      open(contactId);
    } catch (error) {
      const field = error instanceof Refused ? ((error.problem.facts?.field as string | undefined) ?? null) : null;
      setFault({ field, text: (error as Error).message });
    }
  });
  return (
    <Modal title="New contact" onClose={onClose} width={520}>
      <form onSubmit={save} noValidate>
        <div className="grid grid-cols-[110px_1fr] items-baseline gap-x-3 gap-y-2">
          {FIELDS.map(({ key, name, type }, i) => (
            <label key={key} className="contents">
              <span className="text-ink2">{name}</span>
              <span>
                <input
                  type={type ?? 'text'}
                  autoFocus={i === 0}
                  autoComplete="off"
                  aria-invalid={fault?.field === key}
                  className="field w-full"
                  {...register(key)}
                />
                {fault?.field === key ? <span className="block text-alarm">{fault.text}</span> : null}
              </span>
            </label>
          ))}
          <label className="contents">
            <span className="text-ink2">Source</span>
            <input list="known-sources" autoComplete="off" className="field w-full" {...register('source')} />
          </label>
          <datalist id="known-sources">
            {lists.data?.sources.map((source) => (
              <option key={source.label} value={source.label} />
            ))}
          </datalist>
        </div>
        {fault && !fault.field ? (
          <p role="alert" className="mt-3 text-alarm">
            {fault.text}
          </p>
        ) : null}
        <div className="mt-4 flex gap-2">
          <Button kind="action" type="submit" busy={formState.isSubmitting}>
            Save contact
          </Button>
          <Button kind="quiet" onClick={onClose}>
            Cancel
          </Button>
        </div>
      </form>
      {enough && matches.data && matches.data.length > 0 ? (
        <section className="mt-5 border-t border-strong pt-3" aria-live="polite">
          <h3 className="font-semibold">Already here?</h3>
          {matches.data.map((match) => (
            <div key={match.contactId} className="border-b border-hair py-2">
              <p className="flex items-baseline gap-2">
                <button type="button" className="link font-semibold" onClick={() => open(match.contactId)}>
                  {match.name}
                </button>
                <span className="text-ink2">{[match.email, match.tel].filter(Boolean).join(' · ')}</span>
                <span className="ml-auto text-ink3">{match.band}</span>
              </p>
              <p className="text-[12.5px] text-ink2">
                {match.reasons
                  .slice(0, 3)
                  .map((reason) => `${reason.text} ${reason.bits > 0 ? '+' : ''}${reason.bits}`)
                  .join(' · ')}
              </p>
            </div>
          ))}
        </section>
      ) : null}
    </Modal>
  );
}
