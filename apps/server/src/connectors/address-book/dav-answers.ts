import { XMLParser } from 'fast-xml-parser';
import { ToolTrouble } from '@gray-loom/core/syncing';

const parser = new XMLParser({
  removeNSPrefix: true,
  ignoreAttributes: true,
  parseTagValue: false,
  trimValues: false,
  // References to characters by number are read as well: line ends of cards come so.
  htmlEntities: true,
  isArray: (name) => ['response', 'propstat', 'href', 'supported-report'].includes(name),
});

export interface DavResponse {
  href: string;
  status: number | null;
  /** Properties that were found, by their local names. */
  prop: Record<string, unknown>;
}

export interface Multistatus {
  responses: DavResponse[];
  syncToken: string | null;
}

const statusOf = (text: unknown): number | null => {
  const found = /\s(\d{3})\b/.exec(String(text ?? ''));
  return found ? Number(found[1]) : null;
};

type Node = Record<string, unknown>;
const isNode = (value: unknown): value is Node => typeof value === 'object' && value !== null && !Array.isArray(value);
const textIn = (value: unknown): string => (isNode(value) ? String(value['#text'] ?? '') : String(value ?? '')).trim();

/** Reads a multistatus (RFC 4918, 13). Errors: ToolTrouble where it is none. */
export function readMultistatus(xml: string, host: string): Multistatus {
  let parsed: unknown;
  try {
    parsed = parser.parse(xml, true);
  } catch {
    throw new ToolTrouble(
      'protocol',
      `${host} answers with something that is no list of cards. Is it an address book?`,
    );
  }
  const root = isNode(parsed) ? parsed.multistatus : undefined;
  if (root === undefined)
    throw new ToolTrouble(
      'protocol',
      `${host} answers with a page and not with cards. Is the address that of an address book?`,
    );
  const body = isNode(root) ? root : {};
  const responses = ((body.response ?? []) as Node[]).map((response): DavResponse => {
    const prop: Node = {};
    for (const propstat of (response.propstat ?? []) as Node[])
      if ((statusOf(propstat.status) ?? 200) < 300 && isNode(propstat.prop)) Object.assign(prop, propstat.prop);
    return {
      href: textIn((response.href as unknown[] | undefined)?.[0]),
      status: statusOf(response.status),
      prop,
    };
  });
  const token = body['sync-token'];
  return { responses, syncToken: token === undefined ? null : textIn(token) };
}

/** A text of a property; '' where there is none. */
export const textOf = (prop: Record<string, unknown>, name: string): string => textIn(prop[name]);

/** An address within a property, such as that of the principal. */
export function hrefIn(prop: Record<string, unknown>, name: string): string | null {
  const value = prop[name];
  if (!isNode(value)) return null;
  const [first] = (value.href ?? []) as unknown[];
  return first === undefined ? null : textIn(first);
}

/** Whether a resource is of a kind. */
export const isOfType = (prop: Record<string, unknown>, type: string): boolean =>
  isNode(prop.resourcetype) && type in prop.resourcetype;

/** A card as it stands in an answer: its lines keep their ends. */
export function cardText(prop: Record<string, unknown>): string | null {
  const data = prop['address-data'];
  if (data === undefined) return null;
  return isNode(data) ? String(data['#text'] ?? '') : String(data);
}
