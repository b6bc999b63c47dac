import { lookup as lookUp } from 'node:dns';
import { Agent as HttpAgent, request as requestHttp, type IncomingMessage } from 'node:http';
import { Agent as HttpsAgent, request as requestHttps } from 'node:https';
import { BlockList, isIP, type LookupFunction } from 'node:net';
import { ToolTrouble } from '@gray-loom/core/syncing';

/** Addresses inside, which nobody outside has a tool at (RFC 1918, 3927, 4193, 6598 and their like). */
const INSIDE = new BlockList();
for (const [net, bits] of [
  ['0.0.0.0', 8],
  ['10.0.0.0', 8],
  ['100.64.0.0', 10],
  ['127.0.0.0', 8],
  ['169.254.0.0', 16],
  ['172.16.0.0', 12],
  ['192.0.0.0', 24],
  ['192.168.0.0', 16],
  ['198.18.0.0', 15],
  ['224.0.0.0', 4],
  ['240.0.0.0', 4],
] as const)
  INSIDE.addSubnet(net, bits, 'ipv4');
for (const [net, bits] of [
  ['::', 128],
  ['::1', 128],
  ['fc00::', 7],
  ['fe80::', 10],
  ['ff00::', 8],
] as const)
  INSIDE.addSubnet(net, bits, 'ipv6');

/** The sixteen-bit groups of an address of the sixth version, whose last two may be written as one of the fourth. */
function groupsOf(address: string): number[] {
  const whole = address.replace(/%.*$/, '').replace(/(\d+)\.(\d+)\.(\d+)\.(\d+)$/, (_, ...parts: string[]) => {
    const [a = 0, b = 0, c = 0, d = 0] = parts.map(Number);
    return `${(a * 256 + b).toString(16)}:${(c * 256 + d).toString(16)}`;
  });
  const [head = '', tail] = whole.split('::');
  const groups = (text: string) => (text ? text.split(':').map((group) => parseInt(group, 16)) : []);
  if (tail === undefined) return groups(head);
  const [before, after] = [groups(head), groups(tail)];
  return [...before, ...Array<number>(8 - before.length - after.length).fill(0), ...after];
}

/**
 * The address of the fourth version that one of the sixth stands for: mapped (RFC 4291), compatible (RFC 4291), translated
 * (RFC 6052, 8215 and 7915) or 6to4 (RFC 3056); null where it stands for none.
 */
function embedded(address: string): string | null {
  const groups = groupsOf(address);
  const v4 = (at: number) => {
    const [high = 0, low = 0] = groups.slice(at, at + 2);
    return [high >> 8, high & 255, low >> 8, low & 255].join('.');
  };
  const begins = (...first: number[]) => first.every((group, i) => groups[i] === group);
  if (begins(0, 0, 0, 0, 0, 0xffff) || begins(0, 0, 0, 0, 0xffff, 0)) return v4(6);
  if (begins(0x64, 0xff9b)) return v4(6);
  if (begins(0x2002)) return v4(1);
  return begins(0, 0, 0, 0, 0, 0) ? v4(6) : null;
}

function isInside(address: string): boolean {
  if (isIP(address) !== 6) return INSIDE.check(address, 'ipv4');
  if (INSIDE.check(address, 'ipv6')) return true;
  const v4 = embedded(address);
  return v4 !== null && INSIDE.check(v4, 'ipv4');
}

export interface GuardedAnswer {
  status: number;
  headers: Record<string, string | undefined>;
  body: string;
  /** Local time at half way, in ms since 1970 UTC, and how long it took. */
  atMs: number;
  tookMs: number;
}

export interface GuardedRequest {
  method: string;
  headers?: Record<string, string>;
  body?: string;
  /** Longest answer in bytes. */
  most?: number;
}

const WHOLE_MS = 120_000;
const SILENT_MS = 20_000;
const MOST = 64 * 1024 * 1024;
const REDIRECTS = 3;

/** Where no answer came after the request was sent: it may have been done. */
export class NoAnswer extends ToolTrouble {
  constructor(message: string) {
    super('unreachable', message);
  }
}

/**
 * Requests to outside tools: http and https only, never to an address inside unless it is that of a stand-in, answers and
 * time bounded, redirects looked at before they are followed, credentials never taken to another place.
 */
export class GuardedRequester {
  private readonly agents = {
    'http:': new HttpAgent({ keepAlive: true, maxSockets: 8 }),
    'https:': new HttpsAgent({ keepAlive: true, maxSockets: 8 }),
  };

  /** @param inside origins inside that are allowed, such as those of stand-ins */
  constructor(private readonly inside: readonly string[] = []) {}

  close(): void {
    for (const agent of Object.values(this.agents)) agent.destroy();
  }

  /** The address as it is asked for. Errors: ToolTrouble that says why it is refused. */
  check(address: string): URL {
    let url: URL;
    try {
      url = new URL(address);
    } catch {
      throw new ToolTrouble('refusedAddress', `"${address}" is no web address. It begins with https:// or http://.`);
    }
    if (url.protocol !== 'http:' && url.protocol !== 'https:')
      throw new ToolTrouble(
        'refusedAddress',
        `${url.protocol}// is not asked; give an address with https:// or http://.`,
      );
    if (url.username || url.password)
      throw new ToolTrouble('refusedAddress', 'The address holds a name or a password. Give them in their own boxes.');
    const host = url.hostname.replace(/^\[|\]$/g, '');
    if (!this.inside.includes(url.origin) && (host === 'localhost' || (isIP(host) && isInside(host))))
      throw new ToolTrouble('refusedAddress', `${url.host} is an address inside, which is not asked.`);
    return url;
  }

  async send(address: string, request: GuardedRequest): Promise<GuardedAnswer> {
    let url = this.check(address);
    for (let hops = 0; ; hops++) {
      const answer = await this.once(url, request);
      const location = answer.headers.location;
      if (answer.status < 300 || answer.status >= 400 || !location) return answer;
      const next = this.check(new URL(location, url).href);
      if (next.origin !== url.origin)
        throw new ToolTrouble(
          'refusedAddress',
          `${url.host} sends on to ${next.host}. Credentials are not taken there; give that address if it is right.`,
        );
      if (hops >= REDIRECTS) throw new ToolTrouble('protocol', `${url.host} sends on and on.`);
      url = next;
    }
  }

  private once(url: URL, { method, headers = {}, body, most = MOST }: GuardedRequest): Promise<GuardedAnswer> {
    const started = Date.now();
    const allowed = this.inside.includes(url.origin);
    // What a name leads to is checked where it is used, so that it cannot lead elsewhere a moment later.
    const lookup: LookupFunction = (host, options, done) => {
      lookUp(host, { ...options, all: true }, (error, found) => {
        if (error) return done(error, '', 0);
        const bad = found.find(({ address }) => !allowed && isInside(address));
        if (bad) return done(Object.assign(new Error('inside'), { code: 'INSIDE' }), '', 0);
        if (options.all) return done(null, found as never, 0);
        const [first] = found;
        done(null, first?.address ?? '', first?.family ?? 4);
      });
    };
    return new Promise((resolve, reject) => {
      const ask = url.protocol === 'https:' ? requestHttps : requestHttp;
      let sent = false;
      const request = ask(
        url,
        {
          method,
          headers: { ...headers, ...(body === undefined ? {} : { 'Content-Length': String(Buffer.byteLength(body)) }) },
          agent: this.agents[url.protocol as 'http:' | 'https:'],
          lookup,
          timeout: SILENT_MS,
        },
        (answer) => {
          collect(answer, most).then(
            (text) => {
              clearTimeout(whole);
              const took = Date.now() - started;
              resolve({
                status: answer.statusCode ?? 0,
                headers: answer.headers as Record<string, string | undefined>,
                body: text,
                atMs: started + took / 2,
                tookMs: took,
              });
            },
            (error: Error) => fail(error),
          );
        },
      );
      const fail = (error: Error) => {
        clearTimeout(whole);
        request.destroy();
        if (error instanceof ToolTrouble) return reject(error);
        const { code } = error as { code?: string };
        if (code === 'INSIDE')
          return reject(
            new ToolTrouble('refusedAddress', `${url.host} leads to an address inside, which is not asked.`),
          );
        if (code === 'ENOTFOUND' || code === 'EAI_AGAIN')
          return reject(new ToolTrouble('unreachable', `There is no ${url.hostname}. Is the address right?`));
        if (code === 'ECONNREFUSED')
          return reject(new ToolTrouble('unreachable', `${url.host} does not take the connection. Does it run?`));
        if (!sent)
          return reject(new ToolTrouble('unreachable', `${url.host} is not reached (${code ?? error.message}).`));
        reject(new NoAnswer(`${url.host} gave no answer (${code ?? error.message}).`));
      };
      const whole = setTimeout(() => fail(new NoAnswer(`${url.host} took longer than two minutes.`)), WHOLE_MS);
      request.once('timeout', () => fail(new NoAnswer(`${url.host} was silent for ${SILENT_MS / 1000} seconds.`)));
      request.once('error', fail);
      request.once('finish', () => (sent = true));
      request.end(body);
    });
  }
}

async function collect(answer: IncomingMessage, most: number): Promise<string> {
  const parts: Buffer[] = [];
  let bytes = 0;
  for await (const part of answer as AsyncIterable<Buffer>) {
    bytes += part.length;
    if (bytes > most) {
      answer.destroy();
      throw new ToolTrouble(
        'tooLarge',
        `The answer has more than ${Math.round(most / 1024 / 1024)} MB and was broken off. Is the address that of an address book?`,
      );
    }
    parts.push(part);
  }
  return Buffer.concat(parts).toString('utf8');
}
