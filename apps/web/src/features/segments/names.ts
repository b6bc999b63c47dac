import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { Catalogue, countryName } from '@gray-loom/core/fields';
import type { Names } from '@gray-loom/core/segments';
import type { Lists, SegmentChoices } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys } from '../../app/keys';
import { useLists } from '../../app/lists';

export interface Known extends Names {
  catalogue: Catalogue;
  lists: Lists | undefined;
  choices: SegmentChoices | undefined;
}

/** What conditions refer to, with what it is called. */
export function useKnown(): Known {
  const lists = useLists().data;
  const choices = useQuery({
    queryKey: keys.segmentChoices(),
    queryFn: () => api.get<SegmentChoices>('/segments/choices'),
    staleTime: 30_000,
  }).data;
  return useMemo(() => knownOf(lists, choices), [lists, choices]);
}

export function knownOf(lists: Lists | undefined, choices: SegmentChoices | undefined): Known {
  const standard = new Set(new Catalogue().fields.map(({ key }) => key));
  const catalogue = new Catalogue(lists?.fields.filter(({ key }) => !standard.has(key)) ?? []);
  const named = (list: readonly { id: number; name: string }[] | undefined, id: string) =>
    list?.find((one) => String(one.id) === id)?.name ?? `number ${id}`;
  return {
    catalogue,
    lists,
    choices,
    field: (key) => catalogue.nameOf(key),
    value: (field, value) => {
      if (field === '@segment') return named(choices?.segments, value);
      if (field === '@sync') return named(choices?.connections, value);
      if (field === '@thread') return named(choices?.threads, value);
      if (field === '@touchBy') return named(choices?.colleagues, value);
      if (field === '@run') return named(choices?.runs, value);
      if (field === 'adr.country' && value.length === 2) return countryName(value.toUpperCase());
      return value;
    },
  };
}
