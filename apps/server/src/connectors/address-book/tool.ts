import pLimit from 'p-limit';
import {
  ToolTrouble,
  type Capabilities,
  type Changes,
  type OutsideRecord,
  type OutsideWrite,
  type OutsideWritten,
  type Tool,
} from '@gray-loom/core/syncing';
import type { CardText } from '@gray-loom/core/formats';
import { NoAnswer, type GuardedAnswer, type GuardedRequester } from '../guarded-request';
import { PacedClient } from '../paced-client';
import { OUTSIDE_CARD_FIELDS, readContent } from './card-fields';
import { changedCard, newCard } from './change-card';
import { cardText, isOfType, readMultistatus, textOf, type DavResponse, type Multistatus } from './dav-answers';

const XML = 'application/xml; charset=utf-8';
const NAMESPACES = 'xmlns:d="DAV:" xmlns:c="urn:ietf:params:xml:ns:carddav" xmlns:s="urn:stand-in"';
const AT_ONCE = 8;
const MULTIGET = 100;
/** Cards kept in memory between reading and writing back. */
const REMEMBERED = 2000;

const propfind = (props: string) =>
  `<?xml version="1.0"?><d:propfind ${NAMESPACES}><d:prop>${props}</d:prop></d:propfind>`;
const escapeXml = (text: string) => text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;');

interface SeenCard {
  card: CardText;
  version: string;
}

/** How a server is signed in to (RFC 7617). */
export interface SignIn {
  user: string;
  password: string;
}

/** The client side of CardDAV (RFC 6352) with sync tokens (RFC 6578). */
export class AddressBookTool implements Tool {
  /** Cards as they were last read, for writing back what we have no name for. */
  private readonly cards = new Map<string, SeenCard>();
  /** Cards that could not be read, with the reason. */
  private readonly unreadable = new Map<string, string>();
  private readonly limit = pLimit(AT_ONCE);
  private readonly client: PacedClient;

  /** @param book address of the book itself, with a slash at its end */
  constructor(
    requester: GuardedRequester,
    private readonly book: string,
    { user, password }: SignIn,
  ) {
    const signIn = `Basic ${Buffer.from(`${user}:${password}`).toString('base64')}`;
    this.client = new PacedClient(requester, {
      credentials: { Authorization: signIn },
      refused: (host) => `${host} does not take the name and password. Were they changed?`,
    });
  }

  /** Requests so far, for the report of a run. */
  get requests(): number {
    return this.client.requests;
  }
  get clock(): Changes['clock'] {
    return this.client.clock;
  }

  private remember(id: string, card: SeenCard): void {
    this.cards.delete(id);
    this.cards.set(id, card);
    for (const oldest of this.cards.keys()) {
      if (this.cards.size <= REMEMBERED) break;
      this.cards.delete(oldest);
    }
  }

  private get host(): string {
    return new URL(this.book).host;
  }

  private async ask(address: string, method: string, body: string, depth: string): Promise<Multistatus> {
    const answer = await this.client.send(address, { method, headers: { 'Content-Type': XML, Depth: depth }, body });
    if (answer.status === 404) throw new ToolTrouble('notFound', `There is no address book at ${address}.`);
    if (answer.status === 403 && /valid-sync-token/.test(answer.body))
      throw new ToolTrouble('cursorLost', `${this.host} does not know where we were.`);
    if (answer.status !== 207)
      throw new ToolTrouble('protocol', `${this.host} answers ${method} with ${answer.status}. Is it an address book?`);
    return readMultistatus(answer.body, this.host);
  }

  /** Properties of a place on the server and, by depth 1, of what is in it. */
  async look(address: string, props: string, depth: string): Promise<DavResponse[]> {
    return (await this.ask(address, 'PROPFIND', propfind(props), depth)).responses;
  }

  async capabilities(): Promise<Capabilities> {
    const props = '<d:displayname/><d:resourcetype/><d:supported-report-set/><s:card-count/><s:card-limit/><s:labels/>';
    const { responses } = await this.ask(this.book, 'PROPFIND', propfind(props), '0');
    const prop = responses[0]?.prop ?? {};
    if (!isOfType(prop, 'addressbook'))
      throw new ToolTrouble('notFound', `${this.book} is no address book. Test the connection again.`);
    const number = (name: string) => {
      const text = textOf(prop, name);
      return text ? Number(text) : null;
    };
    return {
      name: textOf(prop, 'displayname') || this.host,
      fields: [...OUTSIDE_CARD_FIELDS],
      labels: true,
      knownLabels: textOf(prop, 'labels').split('\n').filter(Boolean),
      canRemove: true,
      canMakeFields: true,
      tellsTimes: true,
      keepsStops: [],
      mostRecords: number('card-limit'),
      records: number('card-count'),
    };
  }

  async changes(cursor: string | null): Promise<Changes> {
    const changed: Changes['changed'] = [];
    const gone: string[] = [];
    let token = cursor;
    for (let more = true; more;) {
      const body =
        `<?xml version="1.0"?><d:sync-collection ` +
        `${NAMESPACES}><d:sync-token>${escapeXml(token ?? '')}</d:sync-token><d:sync-level>1</d:sync-level><d:prop><d:getetag/></d:prop></d:sync-collection>`;
      const { responses, syncToken } = await this.ask(this.book, 'REPORT', body, '1');
      more = false;
      for (const { href, status, prop } of responses) {
        const id = this.idOf(href);
        // The book itself with 507 says that there is more (RFC 6578, 3.6).
        if (id === null) more ||= status === 507;
        else if (status === 404) gone.push(id);
        else changed.push({ id, version: textOf(prop, 'getetag') });
      }
      if (syncToken === null || (more && syncToken === token))
        throw new ToolTrouble('protocol', `${this.host} does not say where to go on from.`);
      token = syncToken;
    }
    return { changed, gone, cursor: token, full: cursor === null, clock: this.client.clock };
  }

  private idOf(href: string): string | null {
    const path = new URL(href, this.book).pathname;
    const root = new URL(this.book).pathname;
    if (!path.startsWith(root) || path.length === root.length) return null;
    const name = path.slice(root.length);
    return name.includes('/') ? null : decodeURIComponent(name);
  }

  private addressOf(id: string): string {
    return this.book + encodeURIComponent(id);
  }

  async read(ids: readonly string[]): Promise<OutsideRecord[]> {
    const records: OutsideRecord[] = [];
    for (let i = 0; i < ids.length; i += MULTIGET) {
      const hrefs = ids
        .slice(i, i + MULTIGET)
        .map((id) => `<d:href>${escapeXml(new URL(this.addressOf(id)).pathname)}</d:href>`)
        .join('');
      const body =
        `<?xml version="1.0"?><c:addressbook-multiget ` +
        `${NAMESPACES}><d:prop><d:getetag/><d:getlastmodified/><c:address-data/></d:prop>${hrefs}</c:addressbook-multiget>`;
      const { responses } = await this.ask(this.book, 'REPORT', body, '1');
      for (const response of responses) {
        const record = this.recordOf(response);
        if (record) records.push(record);
      }
    }
    return records;
  }

  private recordOf({ href, status, prop }: DavResponse): OutsideRecord | null {
    const id = this.idOf(href);
    const text = cardText(prop);
    if (id === null || status === 404 || text === null) return null;
    const version = textOf(prop, 'getetag');
    const changed = Date.parse(textOf(prop, 'getlastmodified'));
    const read = readContent(text);
    // A card that cannot be read is there all the same; what it says is not known, and nothing is written over it.
    if (!read.ok) {
      const unreadable = `The card cannot be read: ${read.error}.`;
      this.unreadable.set(id, unreadable);
      return { id, version, fields: {}, labels: [], unreadable };
    }
    this.unreadable.delete(id);
    this.remember(id, { card: read.card, version });
    return {
      id,
      version,
      ...uidOf(read.card),
      ...read.content,
      ...(Number.isFinite(changed) ? { changedAtMs: changed } : {}),
    };
  }

  newId(contactId: number, nonce: string): string {
    return `gray-loom-${contactId}-${nonce}.vcf`;
  }

  newUid(id: string): string {
    return id.replace(/\.vcf$/, '');
  }

  async write(writes: readonly OutsideWrite[]): Promise<OutsideWritten[]> {
    const unread = writes.filter((one) => one.kind !== 'create' && this.cards.get(one.id)?.version !== one.version);
    if (unread.length) await this.read(unread.map(({ id }) => id));
    let trouble: ToolTrouble | null = null;
    const written = await Promise.all(
      writes.map((one) =>
        this.limit(async (): Promise<OutsideWritten> => {
          // After trouble nothing more is sent; what is not confirmed is read before it is written again.
          if (trouble) return { ok: false, why: 'unknown', text: trouble.message };
          try {
            return await this.writeOne(one);
          } catch (error) {
            if (error instanceof NoAnswer) return { ok: false, why: 'unknown', text: error.message };
            if (!(error instanceof ToolTrouble)) throw error;
            trouble ??= error;
            return { ok: false, why: 'unknown', text: error.message };
          }
        }),
      ),
    );
    if (trouble) throw trouble as ToolTrouble;
    return this.withVersions(written);
  }

  private async writeOne(write: OutsideWrite): Promise<OutsideWritten> {
    const address = this.addressOf(write.id);
    const seen = this.cards.get(write.id);
    if (write.kind === 'remove') return this.remove(address, write.version, seen);
    const unreadable = this.unreadable.get(write.id);
    if (write.kind === 'update' && unreadable !== undefined) return { ok: false, why: 'refused', text: unreadable };
    if (write.kind === 'update' && seen?.version !== write.version)
      return seen
        ? { ok: false, why: 'clash', text: 'It was changed meanwhile.' }
        : { ok: false, why: 'gone', text: 'It is gone.' };
    if (write.kind === 'update' && !seen?.card.lines)
      return {
        ok: false,
        why: 'refused',
        text: 'The card over there holds something that is no line of a card; it is only read.',
      };
    const text =
      write.kind === 'create'
        ? this.cardToMake(write)
        : changedCard((seen as SeenCard).card, write.fields, write.labels);
    const answer = await this.client.send(
      address,
      {
        method: 'PUT',
        headers: {
          'Content-Type': 'text/vcard; charset=utf-8',
          ...(write.kind === 'create' ? { 'If-None-Match': '*' } : { 'If-Match': write.version }),
        },
        body: text,
      },
      true,
    );
    if (answer.status >= 300) return this.refusal(answer);
    const version = answer.headers.etag ?? '';
    const read = readContent(text);
    if (!read.ok) return { ok: false, why: 'refused', text: read.error };
    if (version) this.remember(write.id, { card: read.card, version });
    const at = Date.parse(answer.headers.date ?? '');
    return {
      ok: true,
      record: {
        id: write.id,
        version,
        ...uidOf(read.card),
        ...read.content,
        ...(Number.isFinite(at) ? { changedAtMs: at } : {}),
      },
    };
  }

  /** A new card, or one that was removed with everything it had. */
  private cardToMake({ id, fields, labels, from }: Extract<OutsideWrite, { kind: 'create' }>): string {
    const removed = from === undefined ? null : readContent(from);
    if (!removed?.ok) return newCard(this.newUid(id), fields, labels ?? []);
    return removed.card.lines ? changedCard(removed.card, fields, labels) : (from ?? '');
  }

  private async remove(address: string, version: string, seen: SeenCard | undefined): Promise<OutsideWritten> {
    const answer = await this.client.send(address, { method: 'DELETE', headers: { 'If-Match': version } }, true);
    const isGone = answer.status === 404 || answer.status === 410;
    if (answer.status >= 300 && !isGone) return this.refusal(answer);
    const kept = seen?.version === version ? seen.card.lines?.map(({ raw }) => raw).join('') : undefined;
    return { ok: true, record: null, ...(kept === undefined ? {} : { kept }) };
  }

  private refusal(answer: GuardedAnswer): OutsideWritten {
    switch (answer.status) {
      case 412:
        return { ok: false, why: 'clash', text: 'It was changed meanwhile.' };
      case 404:
      case 410:
        return { ok: false, why: 'gone', text: 'It is gone.' };
      case 507:
        return { ok: false, why: 'full', text: 'The book over there is full.' };
      case 409:
        return { ok: false, why: 'refused', text: 'There is another card with the same UID over there.' };
      case 413:
        return { ok: false, why: 'refused', text: 'The card is too large for the book over there.' };
      default:
        return { ok: false, why: 'refused', text: `The book over there does not take it (${answer.status}).` };
    }
  }

  /** Where a write was answered without a version, the card is read back, since it may be kept otherwise than sent. */
  private async withVersions(written: OutsideWritten[]): Promise<OutsideWritten[]> {
    const blank = written.flatMap((one) => (one.ok && one.record && !one.record.version ? [one.record.id] : []));
    if (!blank.length) return written;
    const read = new Map((await this.read(blank)).map((record) => [record.id, record]));
    return written.map((one) =>
      one.ok && one.record && !one.record.version ? { ok: true, record: read.get(one.record.id) ?? null } : one,
    );
  }
}

/** The name that a card keeps wherever it is. */
function uidOf({ properties }: CardText): { uid?: string } {
  const uid = properties.find(({ name }) => name === 'uid')?.values[0];
  return typeof uid === 'string' && uid ? { uid } : {};
}
