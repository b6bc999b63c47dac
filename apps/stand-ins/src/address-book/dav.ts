import { XMLParser } from 'fast-xml-parser';
import type { Book, Card } from './book';

export const BOOK_PATH = '/dav/books/office/';
const HOME_PATH = '/dav/books/';
const PRINCIPAL_PATH = '/dav/principals/office/';
const TOKEN = 'urn:stand-in:sync:';
const REPORTS = ['card:addressbook-multiget', 'card:addressbook-query', 'd:sync-collection'];

const parser = new XMLParser({
  removeNSPrefix: true,
  ignoreAttributes: false,
  attributeNamePrefix: '@',
  isArray: (name) => name === 'href' || name === 'prop-filter' || name === 'text-match',
});

const escapeXml = (text: string) =>
  text
    .replace(/&/g, '&amp;')
    .replace(/</g, '&lt;')
    .replace(/>/g, '&gt;')
    .replace(/\r/g, '&#13;')
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f]/g, '');

type Properties = Record<string, string>;

function response(href: string, found: Properties, missing: readonly string[] = []): string {
  const prop = (list: string) => `<d:prop>${list}</d:prop>`;
  const missed = missing.length
    ? `<d:propstat>${prop(missing.map((name) => `<d:${name}/>`).join(''))}<d:status>HTTP/1.1 404 Not Found</d:status></d:propstat>`
    : '';
  return `<d:response><d:href>${escapeXml(href)}</d:href><d:propstat>${prop(Object.values(found).join(''))}<d:status>HTTP/1.1 200
     OK</d:status></d:propstat>${missed}</d:response>`;
}

const gone = (href: string) =>
  `<d:response><d:href>${escapeXml(href)}</d:href><d:status>HTTP/1.1 404 Not Found</d:status></d:response>`;

const multistatus = (responses: string, more = '') =>
  `<?xml version="1.0" encoding="utf-8"?><d:multistatus xmlns:d="DAV:" xmlns:card="urn:ietf:params:xml:ns:carddav" ` +
  `xmlns:cs="http://calendarserver.org/ns/" xmlns:s="urn:stand-in">${responses}${more}</d:multistatus>`;

export const errorBody = (condition: string) =>
  `<?xml version="1.0" encoding="utf-8"?><d:error xmlns:d="DAV:" xmlns:card="urn:ietf:params:xml:ns:carddav">${condition}</d:error>`;

export const cardPath = (name: string) => BOOK_PATH + encodeURIComponent(name);

/** Name of a card by its address; null where it is of another place. */
export function cardName(path: string): string | null {
  const plain = path.replace(/^https?:\/\/[^/]+/, '');
  if (!plain.startsWith(BOOK_PATH) || plain.length === BOOK_PATH.length) return null;
  const name = decodeURIComponent(plain.slice(BOOK_PATH.length));
  return name.includes('/') ? null : name;
}

function cardProperties(card: Card, withData: boolean): Properties {
  return {
    getetag: `<d:getetag>${escapeXml(card.etag)}</d:getetag>`,
    resourcetype: '<d:resourcetype/>',
    getcontenttype: '<d:getcontenttype>text/vcard; charset=utf-8</d:getcontenttype>',
    getlastmodified: `<d:getlastmodified>${new Date(card.changedAtMs).toUTCString()}</d:getlastmodified>`,
    ...(withData ? { 'address-data': `<card:address-data>${escapeXml(card.text)}</card:address-data>` } : {}),
  };
}

function only(asked: readonly string[] | null, all: Properties): { found: Properties; missing: string[] } {
  if (!asked) return { found: all, missing: [] };
  return {
    found: Object.fromEntries(asked.flatMap((name) => (all[name] ? [[name, all[name]]] : []))),
    missing: asked.filter((name) => !all[name]),
  };
}

const principal = `<d:current-user-principal><d:href>${PRINCIPAL_PATH}</d:href></d:current-user-principal>`;

function collectionProperties(path: string, book: Book, mostCards: number): Properties | null {
  switch (path) {
    case '/dav/':
    case '/':
      return { resourcetype: '<d:resourcetype><d:collection/></d:resourcetype>', 'current-user-principal': principal };
    case PRINCIPAL_PATH:
      return {
        resourcetype: '<d:resourcetype><d:principal/></d:resourcetype>',
        'current-user-principal': principal,
        'principal-URL': `<d:principal-URL><d:href>${PRINCIPAL_PATH}</d:href></d:principal-URL>`,
        'addressbook-home-set': `<card:addressbook-home-set><d:href>${HOME_PATH}</d:href></card:addressbook-home-set>`,
        displayname: '<d:displayname>The office</d:displayname>',
      };
    case HOME_PATH:
      return { resourcetype: '<d:resourcetype><d:collection/></d:resourcetype>', 'current-user-principal': principal };
    case BOOK_PATH:
      return {
        resourcetype: '<d:resourcetype><d:collection/><card:addressbook/></d:resourcetype>',
        displayname: '<d:displayname>Office address book</d:displayname>',
        'current-user-principal': principal,
        getctag: `<cs:getctag>${book.token}</cs:getctag>`,
        'sync-token': `<d:sync-token>${TOKEN}${book.token}</d:sync-token>`,
        'supported-report-set': `<d:supported-report-set>${REPORTS.map(
          (name) => `<d:supported-report><d:report><${name}/></d:report></d:supported-report>`,
        ).join('')}</d:supported-report-set>`,
        'supported-address-data':
          '<card:supported-address-data><card:address-data-type content-type="text/vcard" ' +
          'version="3.0"/><card:address-data-type content-type="text/vcard" version="4.0"/></card:supported-address-data>',
        'max-resource-size': '<card:max-resource-size>200000</card:max-resource-size>',
        'card-count': `<s:card-count>${book.size}</s:card-count>`,
        ...(mostCards ? { 'card-limit': `<s:card-limit>${mostCards}</s:card-limit>` } : {}),
        labels: `<s:labels>${escapeXml(book.labels().join('\n'))}</s:labels>`,
      };
    default:
      return null;
  }
}

interface Asked {
  root: string;
  body: Record<string, unknown>;
  names: string[] | null;
}

/** What a request body asks for: its kind, and the properties by their local names. */
export function readAsked(xml: string): Asked | null {
  if (!xml.trim()) return { root: 'propfind', body: {}, names: null };
  let parsed: Record<string, unknown>;
  try {
    parsed = parser.parse(xml, true) as Record<string, unknown>;
  } catch {
    return null;
  }
  const root = Object.keys(parsed).find((name) => !name.startsWith('?'));
  if (!root) return null;
  const body = (typeof parsed[root] === 'object' ? parsed[root] : {}) as Record<string, unknown>;
  const prop = body.prop;
  return { root, body, names: typeof prop === 'object' && prop !== null ? Object.keys(prop) : prop === '' ? [] : null };
}

/** PROPFIND (RFC 4918, 9.1) of the few places there are; null where there is nothing. */
export function propfind(path: string, depth: string, asked: Asked, book: Book, mostCards: number): string | null {
  const name = cardName(path);
  if (name !== null) {
    const card = book.find(name);
    if (!card) return null;
    const { found, missing } = only(asked.names, cardProperties(card, asked.names?.includes('address-data') ?? false));
    return multistatus(response(path, found, missing));
  }
  const own = collectionProperties(path, book, mostCards);
  if (!own) return null;
  const one = (at: string, properties: Properties) => {
    const { found, missing } = only(asked.names, properties);
    return response(at, found, missing);
  };
  let responses = one(path, own);
  if (depth !== '0' && path === HOME_PATH)
    responses += one(BOOK_PATH, collectionProperties(BOOK_PATH, book, mostCards) ?? {});
  if (depth !== '0' && path === BOOK_PATH)
    for (const card of book.list()) responses += one(cardPath(card.name), cardProperties(card, false));
  return multistatus(responses);
}

export interface Reported {
  status: 207 | 400 | 403;
  xml: string;
}

/** REPORT: multiget and query (RFC 6352, 8.6 and 8.7), sync-collection (RFC 6578). */
export function report(asked: Asked, book: Book, turn: <T>(list: T[]) => T[], isTokenLost: boolean): Reported {
  const one = (card: Card) => {
    const { found, missing } = only(asked.names, cardProperties(card, asked.names?.includes('address-data') ?? true));
    return response(cardPath(card.name), found, missing);
  };
  switch (asked.root) {
    case 'addressbook-multiget': {
      const hrefs = ((asked.body.href ?? []) as unknown[]).map(String);
      return {
        status: 207,
        xml: multistatus(
          turn(hrefs)
            .map((href) => {
              const card = book.find(cardName(href) ?? '');
              return card ? one(card) : gone(href);
            })
            .join(''),
        ),
      };
    }
    case 'addressbook-query': {
      const filters = ((asked.body.filter as Record<string, unknown> | undefined)?.['prop-filter'] ?? []) as {
        '@name'?: string;
        'text-match'?: (string | { '#text'?: string })[];
      }[];
      const wanted = filters.flatMap((filter) =>
        (filter['text-match'] ?? []).map((match) => ({
          name: filter['@name'] ?? '',
          text: String(typeof match === 'object' ? (match['#text'] ?? '') : match).toLowerCase(),
        })),
      );
      const fits = (card: Card) =>
        wanted.every(
          ({ name, text }) =>
            new RegExp(`^(?:[\\w-]+\\.)?${name}[;:](.*)$`, 'gim').exec(card.text)?.[1]?.toLowerCase().includes(text) ??
            false,
        );
      return { status: 207, xml: multistatus(turn(book.list().filter(fits)).map(one).join('')) };
    }
    case 'sync-collection': {
      const token = String(asked.body['sync-token'] ?? '');
      const since = token === '' ? { changed: book.list(), gone: [] } : book.since(numberOf(token));
      if (!since || (token !== '' && isTokenLost)) return { status: 403, xml: errorBody('<d:valid-sync-token/>') };
      return {
        status: 207,
        xml: multistatus(
          turn(since.changed).map(one).join('') + since.gone.map((name) => gone(cardPath(name))).join(''),
          `<d:sync-token>${TOKEN}${book.token}</d:sync-token>`,
        ),
      };
    }
    default:
      return { status: 400, xml: errorBody('<d:supported-report/>') };
  }
}

const numberOf = (token: string) => (token.startsWith(TOKEN) ? Number(token.slice(TOKEN.length)) : Number.NaN);
