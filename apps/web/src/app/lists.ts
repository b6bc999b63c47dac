import { keys, useTouch } from './keys';
import { useQuery } from '@tanstack/react-query';
import { useCallback } from 'react';
import type { Pipeline } from '@gray-loom/core/fields';
import type { Lists, Owner } from '@gray-loom/wire';
import { api } from './api';

/** Fields and pick-lists, which every part of the interface is driven by. */
export function useLists() {
  return useQuery({ queryKey: keys.lists(), queryFn: () => api.get<Lists>('/lists'), staleTime: 30_000 });
}

export function usePipelines({ enabled = true } = {}) {
  return useQuery({
    queryKey: keys.pipelines(),
    queryFn: () => api.get<Pipeline[]>('/pipelines'),
    staleTime: 30_000,
    enabled,
  });
}

/** Accounts that can own contacts and do things. */
export function useOwners() {
  return useQuery({ queryKey: keys.owners(), queryFn: () => api.get<Owner[]>('/owners'), staleTime: 30_000 });
}

/** Looks again at whatever a change of contacts or of the set-up can touch. */
export function useRefresh() {
  const touch = useTouch();
  return useCallback(() => touch('contacts', 'setup', 'groups', 'run'), [touch]);
}
