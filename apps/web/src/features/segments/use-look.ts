import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { isGroup, readCondition, type Condition, type Group, type TestValue } from '@gray-loom/core/segments';
import type { ContactKind } from '@gray-loom/core/model';
import type { SegmentLook } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys } from '../../app/keys';

const PAUSE_MS = 600;

/** What is said so far: tests that have nothing to compare with yet are left out, so that the rest counts. */
export function saidSoFar(condition: Group): { condition: Group; places: number[]; isWhole: boolean } {
  const places: number[] = [];
  let n = 0;
  let isWhole = true;
  const take = (one: Condition): Condition[] => {
    if (isGroup(one)) return [{ join: one.join, of: one.of.flatMap(take) }];
    const place = n++;
    if (!readCondition(one).ok) {
      isWhole = false;
      return [];
    }
    places.push(place);
    return [one];
  };
  const of = condition.of.flatMap(take);
  return { condition: { join: condition.join, of }, places, isWhole };
}

/** The latest of a value once it has rested for a moment. */
function useRested<T>(value: T, ms: number): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setRested(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return rested;
}

interface Asked {
  condition: Group;
  kind: ContactKind;
  answers?: Record<string, TestValue>;
  of?: number | null;
}

/** Counts and first people of what is being built: at once an estimate, and exactly after a moment's rest. */
export function useLook({ condition, kind, answers = {}, of = null }: Asked) {
  const { condition: said, places } = saidSoFar(condition);
  const asked = JSON.stringify({ kind, condition: said, answers, of });
  const rested = useRested(asked, PAUSE_MS);
  const look = (body: string, isQuick: boolean, signal: AbortSignal) =>
    api.post<SegmentLook>('/segments/look', { ...(JSON.parse(body) as object), isQuick }, signal);
  const quick = useQuery({
    queryKey: keys.segmentLook('quick', asked),
    queryFn: ({ signal }) => look(asked, true, signal),
    placeholderData: keepPreviousData,
    enabled: asked !== rested,
    staleTime: 10_000,
    retry: false,
  });
  const exact = useQuery({
    queryKey: keys.segmentLook(rested),
    queryFn: ({ signal }) => look(rested, false, signal),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const isTyping = asked !== rested;
  const data = isTyping ? (quick.data ?? exact.data) : exact.data;
  const counts: number[] = [];
  places.forEach((place, i) => {
    const n = data?.tests[i];
    if (n !== undefined) counts[place] = n;
  });
  return {
    data,
    counts,
    isEstimate: isTyping && (quick.data?.isEstimate ?? false),
    isCounting: isTyping || exact.isFetching,
    error: isTyping ? quick.error : exact.error,
    rows: exact.data?.rows ?? [],
  };
}
