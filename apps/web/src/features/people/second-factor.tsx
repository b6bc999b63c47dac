import { useMutation, useQuery } from '@tanstack/react-query';
import { toString } from 'qrcode';
import { useState } from 'react';
import type { SecondFactor } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys, useTouch } from '../../app/keys';
import { Button, Heading } from '../../ui/controls';

/** The second factor of one's own account: set up with a picture for the authenticator, renewed, taken off. */
export function SecondFactorSection({ has }: { has: boolean }) {
  const touch = useTouch();
  const [codes, setCodes] = useState<readonly string[] | null>(null);
  const begin = useMutation({ mutationFn: () => api.post<SecondFactor>('/me/second-factor') });
  const finish = async (made: readonly string[]) => {
    begin.reset();
    setCodes(made);
    await touch('setup');
  };
  return (
    <section>
      <Heading>Second factor</Heading>
      {codes ? (
        <RecoveryCodes codes={codes} onDone={() => setCodes(null)} />
      ) : begin.data ? (
        <SetUp begun={begin.data} onDone={(made) => void finish(made)} onLeave={() => begin.reset()} />
      ) : has ? (
        <Kept onCodes={setCodes} onDropped={() => void touch('setup')} />
      ) : (
        <div className="flex items-center gap-4 py-2">
          <p className="text-ink2">
            A code from an authenticator on your telephone, asked for beside the password. Whoever has your password
            alone does not get in.
          </p>
          <Button className="ml-auto shrink-0" busy={begin.isPending} onClick={() => begin.mutate()}>
            Set it up
          </Button>
        </div>
      )}
      {begin.error ? (
        <p role="alert" className="text-alarm">
          {begin.error.message}
        </p>
      ) : null}
    </section>
  );
}

function SetUp({
  begun,
  onDone,
  onLeave,
}: {
  begun: SecondFactor;
  onDone: (codes: readonly string[]) => void;
  onLeave: () => void;
}) {
  const [code, setCode] = useState('');
  const picture = useQuery({
    queryKey: keys.accountSessions('picture', begun.secret),
    queryFn: () => toString(begun.address, { type: 'svg', margin: 1 }),
    staleTime: Infinity,
  });
  const confirm = useMutation({
    mutationFn: () => api.post<{ codes: string[] }>('/me/second-factor/confirm', { secret: begun.secret, code }),
    onSuccess: ({ codes }) => onDone(codes),
  });
  return (
    <div className="grid grid-cols-[180px_minmax(0,1fr)] gap-5 py-3 max-sm:grid-cols-1">
      <img
        className="w-45 border border-hair bg-white"
        alt="Picture for the authenticator"
        src={picture.data ? `data:image/svg+xml;utf8,${encodeURIComponent(picture.data)}` : undefined}
      />
      <form
        noValidate
        className="space-y-2"
        onSubmit={(event) => {
          event.preventDefault();
          confirm.mutate();
        }}
      >
        <p>
          Take the picture with the authenticator. Where that is not possible, type this into it:{' '}
          <span className="font-mono break-all">{begun.secret.replace(/(.{4})/g, '$1 ').trim()}</span>
        </p>
        <label className="block">
          <span className="block text-ink2">The code that it shows then</span>
          <input
            className="field mt-1 w-40"
            inputMode="numeric"
            autoComplete="one-time-code"
            autoFocus
            value={code}
            onChange={(event) => setCode(event.target.value)}
          />
        </label>
        {confirm.error ? (
          <p role="alert" className="text-alarm">
            {confirm.error.message}
          </p>
        ) : null}
        <div className="flex gap-2">
          <Button type="submit" kind="action" busy={confirm.isPending} disabled={!code.trim()}>
            Switch it on
          </Button>
          <Button kind="quiet" onClick={onLeave}>
            Leave it
          </Button>
        </div>
      </form>
    </div>
  );
}

function RecoveryCodes({ codes, onDone }: { codes: readonly string[]; onDone: () => void }) {
  return (
    <div className="space-y-2 py-2">
      <p>
        Keep these codes where only you find them. Each is good once, in place of the authenticator, should you lose it.
        They are not shown again.
      </p>
      <ul aria-label="Recovery codes" className="columns-2 border border-hair bg-cloth px-4 py-2 font-mono">
        {codes.map((code) => (
          <li key={code}>{code}</li>
        ))}
      </ul>
      <div className="flex gap-2">
        <a
          className="link py-1"
          download="gray-loom-recovery-codes.txt"
          href={`data:text/plain;charset=utf-8,${encodeURIComponent(`${codes.join('\n')}\n`)}`}
        >
          Save them as a file
        </a>
        <Button className="ml-auto" kind="action" onClick={onDone}>
          I have kept them
        </Button>
      </div>
    </div>
  );
}

function Kept({ onCodes, onDropped }: { onCodes: (codes: readonly string[]) => void; onDropped: () => void }) {
  const [asked, setAsked] = useState<'codes' | 'drop' | null>(null);
  const [password, setPassword] = useState('');
  const renew = useMutation({
    mutationFn: () => api.post<{ codes: string[] }>('/me/second-factor/codes', { password }),
    onSuccess: ({ codes }) => onCodes(codes),
  });
  const drop = useMutation({
    mutationFn: () => api.post('/me/second-factor/drop', { password }),
    onSuccess: onDropped,
  });
  const error = renew.error ?? drop.error;
  return (
    <div className="py-2">
      <p className="flex items-center gap-2">
        It is on.
        <Button className="ml-auto" onClick={() => setAsked('codes')}>
          New recovery codes
        </Button>
        <Button onClick={() => setAsked('drop')}>Take it off</Button>
      </p>
      {asked ? (
        <form
          noValidate
          className="mt-2 flex items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            if (asked === 'codes') renew.mutate();
            else drop.mutate();
          }}
        >
          <label>
            <span className="block text-ink2">Your password</span>
            <input
              type="password"
              autoComplete="current-password"
              autoFocus
              className="field mt-1 w-52"
              value={password}
              onChange={(event) => setPassword(event.target.value)}
            />
          </label>
          <Button type="submit" kind="action" busy={renew.isPending || drop.isPending} disabled={!password}>
            {asked === 'codes' ? 'Make new codes; the old ones count no more' : 'Take it off'}
          </Button>
        </form>
      ) : null}
      {error ? (
        <p role="alert" className="mt-1 text-alarm">
          {error.message}
        </p>
      ) : null}
    </div>
  );
}
