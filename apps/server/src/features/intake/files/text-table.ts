import {
  cardsOfJson,
  isOtherXml,
  readJsonObjects,
  rowsOfAligned,
  rowsOfRuled,
  tableOfBlocks,
  tableOfLabelled,
  tableOfMailboxes,
  tableOfObjects,
  textKind,
  writeDelimitedLine,
  type TextKind,
} from '@gray-loom/core/formats';
import { tableOfOwnLines } from '@gray-loom/core/mapping';
import { refuseIssue } from '../../../http/refusal';
import { broken } from './archive';
import { htmlTable } from './html-text';

/** Which kind of text a file begins as; null for a delimited table. Errors: a refusal for XML that is no page. */
export function textKindOf(beginning: string): TextKind | null {
  if (isOtherXml(beginning)) throw refuseIssue({ code: 'notATable', kind: 'an XML document', path: {} });
  return textKind(beginning);
}

function rowsOf(kind: TextKind, text: string): string[][] {
  switch (kind) {
    case 'json': {
      const objects = readJsonObjects(text);
      if (!objects.ok) throw broken('file of JSON', objects.error);
      return tableOfOwnLines(objects.value) ?? tableOfObjects(objects.value);
    }
    case 'page': {
      const table = htmlTable(text);
      if (!table) throw refuseIssue({ code: 'notATable', kind: 'a web page without a table', path: {} });
      return table;
    }
    case 'labelled':
      return tableOfLabelled(text, (base64) => Buffer.from(base64, 'base64').toString('utf8'));
    case 'ruled':
      return rowsOfRuled(text);
    case 'mailboxes':
      return tableOfMailboxes(text);
    case 'blocks':
      return tableOfBlocks(text);
    case 'aligned':
      return rowsOfAligned(text);
  }
}

function tableText(kind: TextKind, text: string): string {
  const rows = rowsOf(kind, text);
  if (rows.length < 2 || !rows[0]?.length) throw refuseIssue({ code: 'noDataRows', path: {} });
  return rows.map((cells) => writeDelimitedLine(cells)).join('');
}

/** What a text of another kind becomes: a delimited table, or cards where it holds such. Errors: a refusal. */
export function textAsFile(kind: TextKind, text: string): { text: string; madeOf: TextKind | null } {
  const cards = kind === 'json' ? cardsOfJson(text) : null;
  return cards === null ? { text: tableText(kind, text), madeOf: kind } : { text: cards, madeOf: null };
}
