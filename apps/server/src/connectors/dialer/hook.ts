import type { HeardCall, HeardRequest } from '../connector';
import { readSigned } from '../signed-call';

const KINDS: ReadonlyMap<unknown, HeardCall['kind']> = new Map([
  ['people', 'records'],
  ['push', 'pushed'],
  ['calls', 'results'],
]);

/** Reads a call of the dialer: who changed or was pushed over, or which calls came. */
export function readDialerCall(request: HeardRequest): HeardCall | { refused: string } {
  const read = readSigned(request, 'x-signature');
  if ('refused' in read) return read;
  const { kind, ids } = read.said;
  const known = KINDS.get(kind);
  if (!known || !Array.isArray(ids)) return { refused: 'It says nothing that is known.' };
  return { kind: known, ids: ids.filter(Number.isSafeInteger).map((id) => `#${String(id)}`) };
}
