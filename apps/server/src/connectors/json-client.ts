import { ToolTrouble, type Changes, type OutsidePage } from '@gray-loom/core/syncing';
import type { GuardedAnswer, GuardedRequester } from './guarded-request';
import { PacedClient, type QuotaHeaders, type RenewedHeaders } from './paced-client';

/** Largest answer; a page of records is far below. */
const MOST_BYTES = 16 * 1024 * 1024;

/** What connectors of tools that speak JSON over HTTP ask them by. */
export class JsonClient {
  private readonly client: PacedClient;

  /**
   * @param base address of its interface, without a slash at its end
   * @param options headers that every request has; what it should be, in a sentence about an answer that is not of one ("a dialer"); how it
   *   says what is left of its quota; whether it is asked for stops
   */
  constructor(
    requester: GuardedRequester,
    private readonly base: string,
    private readonly options: {
      credentials: Record<string, string> | RenewedHeaders;
      tool: string;
      quota?: QuotaHeaders;
      forStops?: boolean;
    },
  ) {
    const refused = (host: string) => `${host} does not take the key. Was it changed?`;
    this.client = new PacedClient(requester, { ...options, refused });
  }

  get requests(): number {
    return this.client.requests;
  }
  get clock(): Changes['clock'] {
    return this.client.clock;
  }
  get host(): string {
    return new URL(this.base).host;
  }

  /** Asks; any answer but one that is no JSON is the caller's. */
  async ask<T>(path: string, method = 'GET', body?: unknown): Promise<{ answer: GuardedAnswer; json: T }> {
    const answer = await this.client.send(
      `${this.base}${path}`,
      {
        method,
        most: MOST_BYTES,
        ...(body === undefined ? {} : { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
      },
      method !== 'GET',
    );
    if (answer.status === 204) return { answer, json: undefined as T };
    try {
      return { answer, json: JSON.parse(answer.body) as T };
    } catch {
      throw new ToolTrouble(
        'protocol',
        `${this.host} answers with something that is no JSON. Is it ${this.options.tool}?`,
      );
    }
  }

  /** The same where any other answer than a good one means that the tool does not do it, and says why. */
  async tell<T>(path: string, method: string, body?: unknown): Promise<T> {
    const { answer, json } = await this.ask<T & { message?: string }>(path, method, body);
    if (answer.status >= 300) throw new ToolTrouble('refusedThere', json?.message ?? `${this.host} does not take it.`);
    return json;
  }

  /** The same where any other answer than a good one is trouble of the tool as a whole. */
  async get<T>(path: string): Promise<T> {
    const { answer, json } = await this.ask<T>(path);
    if (answer.status === 410) throw new ToolTrouble('cursorLost', `${this.host} does not know where we were.`);
    if (answer.status === 404) throw new ToolTrouble('notFound', `There is not ${this.options.tool} at ${this.base}.`);
    if (answer.status >= 300)
      throw new ToolTrouble('protocol', `${this.host} answers with ${answer.status}. Is it ${this.options.tool}?`);
    return json;
  }

  /** A part of a list that only grows, from a place on. Errors: ToolTrouble, also where it does not say where to go on from. */
  async page<T, Name extends string>(path: string, name: Name, cursor: string, limit: number): Promise<OutsidePage<T>> {
    const page = await this.get<Record<Name, T[]> & { cursor: string; more: boolean }>(
      `${path}?limit=${limit}&cursor=${encodeURIComponent(cursor)}`,
    );
    if (page.more && page.cursor === cursor)
      throw new ToolTrouble('protocol', `${this.host} does not say where to go on from.`);
    return { entries: page[name], cursor: page.cursor, more: page.more };
  }
}
