import { keys } from '../../app/keys';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useId, useState } from 'react';
import type { AreaDefinition, Lists } from '@gray-loom/wire';
import { countryCodes, countryName, findCountry, type AreaRule } from '@gray-loom/core/fields';
import { api } from '../../app/api';
import { useRefresh } from '../../app/lists';
import { Button, Failed, Heading, Loading } from '../../ui/controls';
import { count } from '../../ui/when';
import { WhoHasIt } from './who-has-it';

interface DraftRule {
  country: string;
  region: string;
  postalPrefix: string;
}
interface DraftArea {
  name: string;
  rules: DraftRule[];
}

const EMPTY_RULE: DraftRule = { country: '', region: '', postalPrefix: '' };

function draftsOf(areas: AreaDefinition[]): DraftArea[] {
  return areas.map(({ name, rules }) => ({
    name,
    rules: rules.map((rule) => ({
      country: rule.country ? countryName(rule.country) : '',
      region: rule.region ?? '',
      postalPrefix: rule.postalPrefix ?? '',
    })),
  }));
}

function ruleOf({ country, region, postalPrefix }: DraftRule): AreaRule {
  const code = country.trim() ? findCountry(country) : null;
  if (country.trim() && !code) throw new Error(`There is no country '${country.trim()}'.`);
  return { country: code, region: region.trim() || null, postalPrefix: postalPrefix.trim() || null };
}

/** Areas by country, region or beginning of the postal code; saved together, then worked out for everybody. */
export function AreasPage({ lists }: { lists: Lists }) {
  const areas = useQuery({ queryKey: keys.areas(), queryFn: () => api.get<AreaDefinition[]>('/areas') });
  if (areas.isPending) return <Loading what="the areas" />;
  if (areas.isLoadingError) return <Failed error={areas.error} retry={() => void areas.refetch()} />;
  return <AreasForm key={JSON.stringify(areas.data)} areas={areas.data} lists={lists} />;
}

function AreasForm({ areas, lists }: { areas: AreaDefinition[]; lists: Lists }) {
  const id = useId();
  const refresh = useRefresh();
  const [drafts, setDrafts] = useState<DraftArea[]>(() => draftsOf(areas));
  const save = useMutation({
    mutationFn: async () =>
      api.put('/areas', { areas: drafts.map(({ name, rules }) => ({ name, rules: rules.map(ruleOf) })) }),
    onSuccess: refresh,
  });
  const changed = JSON.stringify(drafts) !== JSON.stringify(draftsOf(areas));
  const set = (at: number, area: DraftArea | null) =>
    setDrafts(drafts.flatMap((one, i) => (i === at ? (area ? [area] : []) : [one])));
  const countsOf = new Map(lists.areas.map((area) => [area.label, area]));
  return (
    <form
      className="h-full max-w-3xl overflow-y-auto px-5 py-4"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <Heading aside={count(drafts.length)}>Areas</Heading>
      <p className="py-1.5 text-ink2">
        A contact lies in the first area that fits its first address. Every part of a line has to fit.
      </p>
      <datalist id={`${id}-countries`}>
        {countryCodes().map((code) => (
          <option key={code} value={countryName(code)} />
        ))}
      </datalist>
      {drafts.map((area, at) => (
        <fieldset key={at} className="border-b border-hair py-2">
          <legend className="sr-only">{area.name || 'New area'}</legend>
          <div className="flex items-center gap-2">
            <input
              aria-label="Name of the area"
              placeholder="name of the area"
              className="field w-56 font-semibold"
              maxLength={60}
              value={area.name}
              onChange={(event) => set(at, { ...area, name: event.target.value })}
            />
            <WhoHasIt by="area" counts={countsOf.get(area.name)} />
            <Button kind="quiet" className="ml-auto" onClick={() => set(at, null)}>
              Remove area
            </Button>
          </div>
          {area.rules.map((rule, i) => {
            const setRule = (change: Partial<DraftRule> | null) =>
              set(at, {
                ...area,
                rules: area.rules.flatMap((one, j) => (j === i ? (change ? [{ ...one, ...change }] : []) : [one])),
              });
            return (
              <div key={i} className="mt-1.5 flex items-center gap-2">
                <input
                  aria-label="Country"
                  placeholder="any country"
                  list={`${id}-countries`}
                  className="field w-44"
                  value={rule.country}
                  onChange={(event) => setRule({ country: event.target.value })}
                />
                <input
                  aria-label="Region"
                  placeholder="any region"
                  className="field w-40"
                  value={rule.region}
                  onChange={(event) => setRule({ region: event.target.value })}
                />
                <input
                  aria-label="Postal code begins with"
                  placeholder="code begins with"
                  className="field w-36"
                  value={rule.postalPrefix}
                  onChange={(event) => setRule({ postalPrefix: event.target.value })}
                />
                {area.rules.length > 1 ? (
                  <Button kind="quiet" aria-label="Remove this line" onClick={() => setRule(null)}>
                    ×
                  </Button>
                ) : null}
              </div>
            );
          })}
          <button
            type="button"
            className="mt-1.5 text-ink2 hover:text-ink"
            onClick={() => set(at, { ...area, rules: [...area.rules, EMPTY_RULE] })}
          >
            + or where
          </button>
        </fieldset>
      ))}
      <div className="flex items-center gap-2 py-3">
        <Button onClick={() => setDrafts([...drafts, { name: '', rules: [EMPTY_RULE] }])}>New area</Button>
        <Button kind="action" type="submit" disabled={!changed} busy={save.isPending}>
          Save and work out anew
        </Button>
        {changed ? (
          <Button kind="quiet" onClick={() => setDrafts(draftsOf(areas))}>
            Throw changes away
          </Button>
        ) : null}
      </div>
      {save.error ? (
        <p role="alert" className="text-alarm">
          {save.error.message}
        </p>
      ) : null}
    </form>
  );
}
