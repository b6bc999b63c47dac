import { keys } from '../../app/keys';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useId, useState } from 'react';
import type { AddressCompletion } from '@gray-loom/wire';
import {
  addressParts,
  countryCodes,
  countryName,
  findCountry,
  formatAddress,
  isLikelyPostalCode,
  type AddressPart,
} from '@gray-loom/core/fields';
import type { AddressValue } from '@gray-loom/core/model';
import { api } from '../../app/api';

const NAMES: Record<AddressPart, string> = {
  street: 'Street and number',
  locality: 'Town',
  region: 'Region',
  postalCode: 'Postal code',
};

interface AddressFormProps {
  value: AddressValue;
  onChange: (value: AddressValue) => void;
  /** ISO 3166-1 alpha-2 of the country that is meant where none is typed. */
  home: string;
  autoFocus?: boolean;
  invalid?: boolean;
}

/** An address in the order of its country; town and code are completed from addresses that are here, anything else can be typed. */
export function AddressForm({ value, onChange, home, autoFocus, invalid }: AddressFormProps) {
  const id = useId();
  const [asking, setAsking] = useState(false);
  // One letter is the beginning of a name here, though it is a country's sign elsewhere.
  const typed = value.country?.trim() ?? '';
  const country = typed.length > 1 ? findCountry(typed) : home;
  const regions = useQuery({
    queryKey: keys.regions(),
    queryFn: async () => (await import('country-region-data')).allCountries,
    staleTime: Infinity,
  });
  const listed = regions.data?.find(([, code]) => code === country)?.[2] ?? [];
  const set = (part: keyof AddressValue, text: string) => onChange({ ...value, [part]: text });
  const oddCode =
    value.postalCode?.trim() && country && !isLikelyPostalCode(value.postalCode, country)
      ? `This is not written like a postal code of ${countryName(country)}. Check the country; it can be kept so.`
      : '';
  const parts = addressParts(country);
  return (
    <div className="space-y-1.5" onFocus={() => setAsking(true)}>
      {parts.map((part, i) => (
        <div key={part}>
          {part === 'street' ? (
            <textarea
              aria-label={NAMES[part]}
              placeholder={NAMES[part]}
              rows={2}
              autoFocus={autoFocus && i === 0}
              aria-invalid={invalid}
              className="field w-full"
              value={value.street ?? ''}
              onChange={(event) => set('street', event.target.value)}
            />
          ) : (
            <input
              aria-label={NAMES[part]}
              placeholder={NAMES[part]}
              autoFocus={autoFocus && i === 0}
              autoComplete="off"
              list={part === 'region' && listed.length ? `${id}-regions` : undefined}
              aria-invalid={part === 'postalCode' && !!oddCode}
              aria-describedby={part === 'postalCode' && oddCode ? `${id}-odd` : undefined}
              className="field w-full"
              value={value[part] ?? ''}
              onChange={(event) => set(part, event.target.value)}
            />
          )}
          {part === 'postalCode' && oddCode ? (
            <p id={`${id}-odd`} className="text-[12px] text-ink2">
              {oddCode}
            </p>
          ) : null}
        </div>
      ))}
      <input
        aria-label="Country"
        placeholder={`Country (${countryName(home)} if left empty)`}
        autoComplete="off"
        list={`${id}-countries`}
        className="field w-full"
        value={value.country ?? ''}
        onChange={(event) => set('country', event.target.value)}
      />
      <datalist id={`${id}-countries`}>
        {countryCodes().map((code) => (
          <option key={code} value={countryName(code)} />
        ))}
      </datalist>
      <datalist id={`${id}-regions`}>
        {listed.map(([name]) => (
          <option key={name} value={name} />
        ))}
      </datalist>
      {asking ? (
        <Completions value={value} onChoose={(known) => onChange({ ...value, ...known })} country={country ?? ''} />
      ) : null}
    </div>
  );
}

function Completions({
  value,
  country,
  onChoose,
}: {
  value: AddressValue;
  country: string;
  onChoose: (known: Partial<AddressValue>) => void;
}) {
  const postalCode = useDeferredValue(value.postalCode?.trim() ?? '');
  const locality = useDeferredValue(value.locality?.trim() ?? '');
  const query = new URLSearchParams({ postalCode, locality, country: value.country ? country : '' }).toString();
  const known = useQuery({
    queryKey: keys.addresses(query),
    queryFn: ({ signal }) => api.get<AddressCompletion[]>(`/addresses?${query}`, signal),
    enabled: postalCode.length > 1 || locality.length > 1,
    placeholderData: keepPreviousData,
    staleTime: 60_000,
  });
  const offered = (postalCode.length > 1 || locality.length > 1 ? (known.data ?? []) : []).filter(
    (one) =>
      one.locality !== (value.locality ?? '') ||
      one.postalCode !== (value.postalCode ?? '') ||
      one.region !== (value.region ?? ''),
  );
  if (!offered.length) return null;
  return (
    <ul aria-label="Known places" className="border border-hair">
      {offered.slice(0, 4).map((one) => (
        <li key={JSON.stringify(one)}>
          <button
            type="button"
            className="w-full truncate px-2 py-0.5 text-left text-[12.5px] hover:bg-wash"
            onClick={() =>
              onChoose({
                locality: one.locality,
                ...(one.region ? { region: one.region } : {}),
                ...(one.postalCode ? { postalCode: one.postalCode } : {}),
                ...(one.country ? { country: countryName(one.country) } : {}),
              })
            }
          >
            {formatAddress({ ...one, country: one.country || undefined })}
          </button>
        </li>
      ))}
    </ul>
  );
}
