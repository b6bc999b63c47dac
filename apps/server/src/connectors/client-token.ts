import { ToolTrouble } from '@gray-loom/core/syncing';
import type { GuardedRequester } from './guarded-request';
import { PacedClient, type RenewedHeaders } from './paced-client';

/** Largest answer to a request for a token. */
const MOST_BYTES = 65_536;
/** A token that ends within this is not used any more. */
const EARLY_MS = 5_000;

interface TokenAnswer {
  access_token?: string;
  expires_in?: number;
}

/**
 * Headers with a token for a client (OAuth 2, client credentials: RFC 6749, 4.4). It is asked for when there is none, when it ends soon,
 * and when it is not taken any more.
 *
 * @param address where tokens are given out
 */
export function clientToken(
  requester: GuardedRequester,
  address: string,
  client: { id: string; secret: string },
): RenewedHeaders {
  const refused = (host: string) => `${host} does not take the name and secret of the client. Were they changed?`;
  const pair = [client.id, client.secret].map(encodeURIComponent).join(':');
  const paced = new PacedClient(requester, {
    credentials: { Authorization: `Basic ${Buffer.from(pair).toString('base64')}` },
    refused,
  });
  let token = '';
  let endsAtMs = 0;

  async function renew(): Promise<void> {
    const answer = await paced.send(address, {
      method: 'POST',
      most: MOST_BYTES,
      headers: { 'Content-Type': 'application/x-www-form-urlencoded' },
      body: 'grant_type=client_credentials',
    });
    const { host } = new URL(address);
    if (answer.status === 404) throw new ToolTrouble('notFound', `No tokens are given out at ${address}.`);
    const given = readToken(answer.body);
    if (answer.status >= 300 || !given)
      throw new ToolTrouble('protocol', `${host} gives no token that can be read; it answers with ${answer.status}.`);
    token = given.access_token;
    endsAtMs = Date.now() + given.expires_in * 1000;
  }

  return async (anew) => {
    if (anew || !token || Date.now() > endsAtMs - EARLY_MS) await renew();
    return { Authorization: `Bearer ${token}` };
  };
}

/** A token, and the seconds that it holds: an hour where that is not said. */
function readToken(body: string): Required<TokenAnswer> | null {
  let answer: TokenAnswer | null;
  try {
    answer = JSON.parse(body) as TokenAnswer | null;
  } catch {
    return null;
  }
  const { access_token: token, expires_in: seconds = 3600 } = answer ?? {};
  return typeof token === 'string' && /^[\x21-\x7e]+$/.test(token) && Number.isFinite(seconds)
    ? { access_token: token, expires_in: seconds }
    : null;
}
