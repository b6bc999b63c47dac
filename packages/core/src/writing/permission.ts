export type Channel = 'email' | 'text' | 'call' | 'voicemail' | 'post';
export const CHANNELS: readonly Channel[] = ['email', 'text', 'call', 'voicemail', 'post'];

export interface Evidence {
  channel: Channel;
  state: 'allowed' | 'optedOut';
  statedAtMs: number;
}

export type PermissionState = 'allowed' | 'optedOut' | 'unknown';

/**
 * Where a channel stands by its evidence: the newest word counts; of two of one moment the stricter. No evidence is unknown.
 * Evidence is only ever added, so what was said before stays to be seen.
 */
export function permissionState(evidence: readonly Evidence[], channel: Channel): PermissionState {
  let newest: Evidence | null = null;
  for (const one of evidence) {
    if (one.channel !== channel) continue;
    if (
      !newest ||
      one.statedAtMs > newest.statedAtMs ||
      (one.statedAtMs === newest.statedAtMs && one.state === 'optedOut')
    )
      newest = one;
  }
  return newest?.state ?? 'unknown';
}

/** Of what is said for the person and what is said for the address, the stricter counts. */
export function strictest(...states: readonly PermissionState[]): PermissionState {
  if (states.includes('optedOut')) return 'optedOut';
  return states.includes('allowed') ? 'allowed' : 'unknown';
}
