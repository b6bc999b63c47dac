import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { LEAST_PASSWORD, type Handed, type SessionInfo } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { sendPicture } from '../../app/send-picture';
import { Button, Fault, Heading } from '../../ui/controls';
import { CalendarSection } from '../activity/calendar-section';
import { Face } from './face';
import { SecondFactorSection } from './second-factor';
import { SessionList } from './session-list';

/** One's own account: name and picture, password, second factor, where one is signed in, and the way out. */
export function OwnAccountPage() {
  const client = useQueryClient();
  const session = useQuery({ queryKey: keys.session(), queryFn: () => api.get<SessionInfo>('/session') });
  const out = useMutation({
    mutationFn: () => api.delete('/session'),
    onSuccess: () => client.resetQueries({ queryKey: keys.session() }),
  });
  if (!session.data) return null;
  const own = session.data;
  return (
    <div className="h-full max-w-2xl space-y-6 overflow-y-auto px-6 py-4">
      <section>
        <Heading>Your account</Heading>
        <NameAndPicture key={own.name} own={own} />
        <div className="flex items-center gap-4 py-2">
          <span className="text-ink2">
            {own.email}, {own.role}
          </span>
          <Button className="ml-auto" busy={out.isPending} onClick={() => out.mutate()}>
            Sign out
          </Button>
        </div>
      </section>
      <PasswordSection />
      <SecondFactorSection has={own.secondFactor} />
      <CalendarSection />
      <section>
        <Heading>Signed in</Heading>
        <SessionList at="/me/sessions" />
      </section>
    </div>
  );
}

function NameAndPicture({ own }: { own: SessionInfo }) {
  const touch = useTouch();
  const [name, setName] = useState(own.name);
  const change = useMutation({
    mutationFn: (changes: { name?: string; picture?: string | null }) => api.patch<Handed>('/me', changes),
    onSettled: () => touch('setup', 'contacts'),
  });
  const send = useMutation({ mutationFn: sendPicture, onSuccess: (picture) => change.mutate({ picture }) });
  return (
    <>
      <Fault error={change.error ?? send.error} onClose={() => [change, send].forEach((one) => one.reset())} />
      <form
        className="flex items-center gap-3 border-b border-hair py-2"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate({ name });
        }}
      >
        <Face name={own.name} picture={own.picture} size={44} />
        <input
          aria-label="Your name"
          className="field w-56"
          maxLength={80}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <Button type="submit" busy={change.isPending} disabled={!name.trim() || name === own.name}>
          Rename
        </Button>
        <label className="link ml-auto cursor-pointer">
          {own.picture ? 'Another picture' : 'Add a picture'}
          <input
            type="file"
            className="sr-only"
            accept="image/jpeg,image/png,image/webp"
            onChange={(event) => {
              const [file] = event.target.files ?? [];
              if (file) send.mutate(file);
            }}
          />
        </label>
        {own.picture ? (
          <Button kind="quiet" onClick={() => change.mutate({ picture: null })}>
            No picture
          </Button>
        ) : null}
      </form>
    </>
  );
}

function PasswordSection() {
  const touch = useTouch();
  const [current, setCurrent] = useState('');
  const [next, setNext] = useState('');
  const change = useMutation({
    mutationFn: () => api.post('/me/password', { current, next }),
    onSuccess: async () => {
      setCurrent('');
      setNext('');
      await touch('setup');
    },
  });
  return (
    <section>
      <Heading>Password</Heading>
      <form
        noValidate
        className="flex flex-wrap items-end gap-3 py-2"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate();
        }}
      >
        <label>
          <span className="block text-ink2">The one you have</span>
          <input
            type="password"
            autoComplete="current-password"
            className="field mt-1 w-52"
            value={current}
            onChange={(event) => setCurrent(event.target.value)}
          />
        </label>
        <label>
          <span className="block text-ink2">The new one, at least {LEAST_PASSWORD} characters</span>
          <input
            type="password"
            autoComplete="new-password"
            className="field mt-1 w-64"
            value={next}
            onChange={(event) => setNext(event.target.value)}
          />
        </label>
        <Button type="submit" busy={change.isPending} disabled={!current || !next}>
          Change the password
        </Button>
      </form>
      {change.error ? (
        <p role="alert" className="text-alarm">
          {change.error.message}
        </p>
      ) : change.isSuccess ? (
        <p role="status">The password is changed. Every other browser was signed out.</p>
      ) : null}
    </section>
  );
}
