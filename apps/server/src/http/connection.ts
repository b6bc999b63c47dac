import { getConnInfo } from '@hono/node-server/conninfo';
import type { Context } from 'hono';
import type { Config } from '../config';

/** How a request reached us, as the browser sees it. */
export interface ConnectionInfo {
  /** Address of whoever asks; empty where there is no network between, as in tests. */
  address: string;
  isSecure: boolean;
  /** Host and port that the browser asked. */
  host: string;
}

const unmapped = (address: string): string => address.replace(/^::ffff:/i, '');

function peerOf(context: Context): string {
  try {
    return unmapped(getConnInfo(context).remote.address ?? '');
  } catch {
    return '';
  }
}

/**
 * Who asks, by which scheme and for which host. What X-Forwarded-For, -Proto and -Host say counts only where it comes from a
 * proxy that was declared; of several addresses the last one that is no declared proxy is whoever asks.
 */
export function connectionOf(context: Context, { trustedProxies }: Pick<Config, 'trustedProxies'>): ConnectionInfo {
  const peer = peerOf(context);
  const host = context.req.header('host') ?? '';
  if (!trustedProxies.includes(peer)) return { address: peer, isSecure: false, host };
  const forwarded = (name: string) =>
    (context.req.header(name) ?? '')
      .split(',')
      .map((one) => one.trim())
      .filter(Boolean);
  const address = forwarded('x-forwarded-for')
    .map(unmapped)
    .findLast((one) => !trustedProxies.includes(one));
  return {
    address: address ?? peer,
    isSecure: forwarded('x-forwarded-proto').at(-1) === 'https',
    host: forwarded('x-forwarded-host').at(-1) ?? host,
  };
}
