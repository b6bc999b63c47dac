import { keys, useTouch } from '../../app/keys';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import type { ConnectionSummary, ConnectionTestResult, ConnectorKind, StandInOffer } from '@gray-loom/wire';
import { api, Refused } from '../../app/api';
import { Button, Heading } from '../../ui/controls';
import { count } from '../../ui/when';
import { SettingsBoxes, useConnectors } from './settings-boxes';

/** The steps of a test, with the one that failed. */
export function TestSteps({ result }: { result: ConnectionTestResult }) {
  return (
    <ol className="mt-2 space-y-0.5" aria-label="Test of the connection">
      {result.steps.map((step) => (
        <li key={step.name} className="flex gap-2">
          <span aria-hidden className={step.ok ? '' : 'text-alarm'}>
            {step.ok ? '✓' : '✗'}
          </span>
          <span>
            {step.name}
            {step.ok ? '' : <strong className="block font-semibold text-alarm">{step.text}</strong>}
          </span>
        </li>
      ))}
      {result.capabilities ? (
        <li className="pt-1 text-ink2">
          It calls itself “{result.capabilities.name}”, holds{' '}
          {result.capabilities.records === null ? 'records' : `${count(result.capabilities.records)} records`}
          {result.capabilities.mostRecords === null
            ? ''
            : ` and has room for ${count(result.capabilities.mostRecords)}`}
          , and has {result.capabilities.fields.length} fields
          {result.capabilities.knownLabels.length
            ? ` and the labels ${result.capabilities.knownLabels.slice(0, 8).join(', ')}${result.capabilities.knownLabels.length > 8 ? '…' : ''}`
            : ''}
          .
        </li>
      ) : null}
    </ol>
  );
}

/** Connecting a tool: its address and credentials, a test, and what the other side can do. */
export function NewConnection({ connections }: { connections: ConnectionSummary[] }) {
  const navigate = useNavigate();
  const touch = useTouch();
  const [params] = useSearchParams();
  const from = connections.find(({ id }) => id === Number(params.get('from')));
  const [name, setName] = useState(from ? `${from.name}, ` : '');
  const connectors = useConnectors();
  const [kind, setKind] = useState<ConnectorKind>(from?.kind ?? 'addressBook');
  const connector = connectors.find((one) => one.kind === kind);
  const [settings, setSettings] = useState<Record<string, string>>(from ? { address: from.address } : {});
  const offers =
    useQuery({ queryKey: keys.standIns(), queryFn: () => api.get<StandInOffer[]>('/stand-ins') }).data ?? [];
  const test = useMutation({
    mutationFn: () => api.post<ConnectionTestResult>('/connections/test', { kind, settings, of: from?.id ?? null }),
    onSuccess: ({ capabilities }) => {
      if (capabilities) setName((typed) => typed || capabilities.name);
    },
  });
  const make = useMutation({
    mutationFn: (despite: boolean) =>
      api.post<{ id: number }>('/connections', { kind, name, settings, from: from?.id ?? null, despite }),
    onSuccess: async ({ id }) => {
      await touch('syncs');
      void navigate(`/syncs/${id}/setup`);
    },
  });
  const refused = make.error instanceof Refused ? make.error.problem : null;
  const faultOf = (field: string) =>
    refused?.errors?.find((one) => one.field === field)?.text ??
    ((refused?.facts as { field?: string } | undefined)?.field === field ? refused?.detail : undefined);
  const loose =
    make.error && !['name', ...(connector?.settings ?? []).map(({ key }) => key)].some(faultOf)
      ? make.error.message
      : null;
  const isTold = (connector?.settings ?? []).every((one) => one.kind !== 'address' || settings[one.key]?.trim());
  return (
    <form
      className="max-w-2xl space-y-4 px-6 py-5"
      onSubmit={(event) => {
        event.preventDefault();
        make.mutate(false);
      }}
    >
      <Heading aside={from ? `starts from ${from.name}` : undefined}>Connect a tool</Heading>
      <p className="text-ink2">
        {connector?.intro} Gray Loom looks only, until you have seen what would change and let it run.
        {from ? ' Scope, fields and rules are those of the connection it starts from; change what differs.' : ''}
      </p>
      {connectors.length > 1 && !from ? (
        <label className="flex items-center gap-2">
          <span className="text-ink2">Kind of tool</span>
          <select className="field" value={kind} onChange={(event) => setKind(event.target.value as ConnectorKind)}>
            {connectors.map((one) => (
              <option key={one.kind} value={one.kind}>
                {one.name}
              </option>
            ))}
          </select>
        </label>
      ) : null}
      {offers.length ? (
        <p className="flex flex-wrap items-center gap-2">
          <span className="text-ink2">Stand-ins that run beside this app:</span>
          {offers.map((one) => (
            <Button
              key={one.settings.address}
              kind="quiet"
              onClick={() => {
                setKind(one.kind);
                setSettings({ ...one.settings });
                make.reset();
              }}
            >
              {(connectors.find((other) => other.kind === one.kind)?.name ?? one.kind).toLowerCase()} at{' '}
              {new URL(one.settings.address ?? '').host}
            </Button>
          ))}
        </p>
      ) : null}
      <div className="grid grid-cols-2 gap-3">
        <label className="block">
          <span className="mb-0.5 block text-ink2">What you call it</span>
          <input
            className="field w-full"
            placeholder="Office address book"
            autoFocus
            value={name}
            aria-invalid={Boolean(faultOf('name')) || undefined}
            onChange={(event) => {
              setName(event.target.value);
              make.reset();
            }}
          />
          {faultOf('name') ? <span className="text-alarm">{faultOf('name')}</span> : null}
        </label>
        <SettingsBoxes
          settings={connector?.settings ?? []}
          values={settings}
          keepsSecrets={from !== undefined}
          faultOf={faultOf}
          onType={(key, text) => {
            setSettings({ ...settings, [key]: text });
            make.reset();
          }}
        />
      </div>
      <div className="flex items-center gap-3">
        <Button busy={test.isPending} disabled={!isTold} onClick={() => test.mutate()}>
          Test
        </Button>
        <Button kind="action" type="submit" busy={make.isPending} disabled={!name.trim() || !isTold}>
          Connect
        </Button>
        <span className="text-[12.5px] text-ink2">Secrets are encrypted; their key is kept outside the database.</span>
      </div>
      {refused?.code === 'sameBook' ? (
        <div role="alert" className="border-l-2 border-ink bg-cloth px-3 py-2">
          <p>{refused.detail}</p>
          <p className="mt-1 flex items-center gap-3">
            <Link className="link" to={`/syncs/${(refused.facts as { connectionId: number }).connectionId}`}>
              Open that connection
            </Link>
            <Button busy={make.isPending} onClick={() => make.mutate(true)}>
              Connect all the same
            </Button>
          </p>
        </div>
      ) : loose ? (
        <p className="text-alarm">{loose}</p>
      ) : null}
      {test.error ? <p className="text-alarm">{test.error.message}</p> : null}
      {test.data ? <TestSteps result={test.data} /> : null}
    </form>
  );
}
