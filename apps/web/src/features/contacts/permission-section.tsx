import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import type { ContactDetail, PermissionChannel, PermissionState } from '@gray-loom/wire';
import { valuesOf } from '@gray-loom/core/model';
import { showValue } from '@gray-loom/core/fields';
import { api } from '../../app/api';
import { useRefresh } from '../../app/lists';
import { Button } from '../../ui/controls';
import { exactly } from '../../ui/when';

const CHANNELS: Record<PermissionChannel, string> = {
  email: 'E-mail',
  text: 'Texts',
  call: 'Calls',
  voicemail: 'Voicemail',
  post: 'Post',
};
const STATES: Record<PermissionState, string> = { allowed: 'allowed', optedOut: 'opted out', unknown: 'unknown' };
const MARKS: Record<PermissionState, string> = { allowed: '✓', optedOut: '✕', unknown: '?' };

/** Where each channel stands and by what word; evidence is only ever added. */
export function PermissionSection({ contact, readOnly }: { contact: ContactDetail; readOnly: boolean }) {
  const [noting, setNoting] = useState<PermissionChannel | null>(null);
  const { channels, evidence, returned } = contact.permissions;
  return (
    <section className="mt-5" aria-label="Permissions">
      <h3 className="border-b border-strong pb-1 font-semibold">Permissions</h3>
      <ul className="flex flex-wrap gap-x-5 gap-y-1 py-1.5">
        {channels.map(({ channel, state, addresses }) => (
          <li key={channel}>
            <button
              type="button"
              disabled={readOnly}
              className="enabled:hover:bg-wash"
              aria-label={`${CHANNELS[channel]}: ${STATES[state]}. Note what was said`}
              onClick={() => setNoting(channel)}
            >
              <span className="text-ink2">{CHANNELS[channel]}</span>{' '}
              <span
                className={
                  state === 'optedOut'
                    ? 'font-semibold text-alarm'
                    : state === 'allowed'
                      ? 'font-semibold'
                      : 'text-ink3'
                }
              >
                <span aria-hidden>{MARKS[state]}</span> {STATES[state]}
              </span>
            </button>
            {addresses
              .filter((one) => one.state !== 'unknown')
              .map((one) => (
                <span key={one.address} className="ml-1.5 text-[12px] text-ink2">
                  {one.address}: {STATES[one.state]}
                </span>
              ))}
          </li>
        ))}
      </ul>
      {returned.map(({ address, how, at, runId }) => (
        <p key={address} className="py-0.5 text-[12.5px]">
          <span className="text-alarm">Mail to {address} came back</span>{' '}
          <span className="text-ink2">
            {how},{' '}
            <Link to={`/ledger/${runId}`} className="hover:underline">
              {exactly(at)}
            </Link>
          </span>
        </p>
      ))}
      {noting ? <NoteForm key={noting} contact={contact} channel={noting} onClose={() => setNoting(null)} /> : null}
      {evidence.length ? (
        <details>
          <summary className="cursor-pointer text-[12.5px] text-ink2">
            {evidence.length === 1 ? 'One word' : `${evidence.length} words`} behind it
          </summary>
          <ol>
            {evidence.map((one, i) => (
              <li key={i} className="border-b border-hair py-1 text-[12.5px]">
                <strong className="font-semibold">
                  {CHANNELS[one.channel]} {STATES[one.state]}
                </strong>
                {one.address ? ` for ${one.address}` : ''}: {one.how}{' '}
                <Link to={`/ledger/${one.runId}`} className="text-ink2 hover:underline">
                  {exactly(one.statedAt)}
                </Link>
              </li>
            ))}
          </ol>
        </details>
      ) : null}
    </section>
  );
}

function addressesFor(contact: ContactDetail, channel: PermissionChannel): string[] {
  if (channel === 'post') return [];
  const field = channel === 'email' ? 'email' : 'tel';
  return valuesOf(contact.record, field).map((value) => showValue(field, value));
}

function NoteForm({
  contact,
  channel,
  onClose,
}: {
  contact: ContactDetail;
  channel: PermissionChannel;
  onClose: () => void;
}) {
  const refresh = useRefresh();
  const [state, setState] = useState<'allowed' | 'optedOut'>('optedOut');
  const [how, setHow] = useState('');
  const [day, setDay] = useState(() => new Date().toLocaleDateString('sv-SE'));
  const [address, setAddress] = useState('');
  const addresses = addressesFor(contact, channel);
  const save = useMutation({
    mutationFn: () =>
      api.post(`/contacts/${contact.id}/permissions`, {
        channel,
        state,
        how,
        statedAt: day || null,
        address: address || null,
      }),
    onSuccess: async () => {
      await refresh();
      onClose();
    },
  });
  return (
    <form
      className="mb-2 space-y-1.5 border-l-2 border-strong bg-cloth px-3 py-2"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
      onKeyDown={(event) => {
        if (event.key === 'Escape') onClose();
      }}
    >
      <fieldset className="flex flex-wrap gap-x-4">
        <legend className="sr-only">{CHANNELS[channel]}</legend>
        {(['allowed', 'optedOut'] as const).map((one) => (
          <label key={one} className="flex items-center gap-1.5">
            <input
              type="radio"
              name="state"
              autoFocus={one === state}
              checked={state === one}
              onChange={() => setState(one)}
            />
            {CHANNELS[channel]} {STATES[one]}
          </label>
        ))}
      </fieldset>
      <input
        aria-label="How it was said"
        placeholder='How it was said, such as "on the phone"'
        className="field w-full"
        maxLength={300}
        value={how}
        onChange={(event) => setHow(event.target.value)}
      />
      <div className="flex flex-wrap items-center gap-2">
        <label className="flex items-center gap-1.5 text-ink2">
          On <input type="date" className="field" value={day} onChange={(event) => setDay(event.target.value)} />
        </label>
        {addresses.length ? (
          <select
            aria-label="What it is said of"
            className="field min-w-0 flex-1"
            value={address}
            onChange={(event) => setAddress(event.target.value)}
          >
            <option value="">said of the person</option>
            {addresses.map((one) => (
              <option key={one} value={one}>
                only of {one}
              </option>
            ))}
          </select>
        ) : null}
      </div>
      {save.error ? (
        <p role="alert" className="text-alarm">
          {save.error.message}
        </p>
      ) : null}
      <div className="flex gap-1.5">
        <Button kind="action" type="submit" busy={save.isPending}>
          Note it
        </Button>
        <Button kind="quiet" onClick={onClose}>
          Cancel
        </Button>
      </div>
    </form>
  );
}
