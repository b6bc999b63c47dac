import { useQuery } from '@tanstack/react-query';
import type { ConnectorOffer } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys } from '../../app/keys';

/** Kinds of outside tools, and what each takes to be reached. */
export function useConnectors(): ConnectorOffer[] {
  return (
    useQuery({
      queryKey: keys.connectors(),
      queryFn: () => api.get<ConnectorOffer[]>('/connectors'),
      staleTime: Infinity,
    }).data ?? []
  );
}

interface SettingsBoxesProps {
  settings: ConnectorOffer['settings'];
  values: Readonly<Record<string, string>>;
  /** Whether secrets are kept already, so that a blank one stays. */
  keepsSecrets: boolean;
  faultOf?: (key: string) => string | undefined;
  onType: (key: string, text: string) => void;
}

/** A box for each thing that a kind of tool takes, by its declaration. */
export function SettingsBoxes({ settings, values, keepsSecrets, faultOf, onType }: SettingsBoxesProps) {
  return settings.map(({ key, label, kind, placeholder }) => {
    const fault = faultOf?.(key);
    return (
      <label key={key} className="block">
        <span className="mb-0.5 block text-ink2">{label}</span>
        <input
          className="field w-full"
          value={values[key] ?? ''}
          aria-invalid={Boolean(fault) || undefined}
          onChange={(event) => onType(key, event.target.value)}
          {...(kind === 'secret'
            ? {
                type: 'password',
                autoComplete: 'new-password',
                placeholder: keepsSecrets ? 'kept; type to change it' : '',
              }
            : kind === 'address'
              ? { inputMode: 'url', placeholder }
              : { autoComplete: 'off', placeholder })}
        />
        {fault ? <span className="text-alarm">{fault}</span> : null}
      </label>
    );
  });
}
