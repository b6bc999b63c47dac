import { CUSTOM_PREFIX } from '@gray-loom/core/fields';
import {
  CardSplitter,
  CardTable,
  openDecoder,
  readCard,
  writeDelimitedLine,
  type CutCard,
  type DelimitedShape,
  type TextEncoding,
} from '@gray-loom/core/formats';
import { defaultMapping, guessCards, type ColumnGuess, type Mapping } from '@gray-loom/core/mapping';
import type { Issue } from '@gray-loom/core/model';
import type { Tx } from '../../../db/connect';
import { refuseIssue } from '../../../http/refusal';
import { loadCatalogue } from '../../../book/picks';
import { keepPicture } from '../../contacts';
import { pieceOfFile } from './statements/file-pieces';
import { insertPiece } from './statements/file-pieces';
import { countPieces, deletePiecesBefore, renumberPieces } from './statements/take-cards';

const PIECE = 1024 * 1024;
/** Broken cards that are named one by one; the rest are seen as held rows. */
const NAMED = 20;
const UTF8: TextEncoding = { name: 'utf-8', decoder: 'utf-8', bomBytes: 0 };

export interface TakenCards {
  shape: DelimitedShape;
  guesses: ColumnGuess[];
  mapping: Mapping;
  issues: Issue[];
  rowCount: number;
}

/** The cards of the first `pieces` pieces of a stored file, one after the other. Memory is bounded by one piece and one card. */
async function* cardsOf(tx: Tx, intakeId: number, pieces: number, label: string): AsyncGenerator<CutCard> {
  const decoder = openDecoder(label);
  const splitter = new CardSplitter();
  for (let seq = 0; seq < pieces; seq++) {
    const { rows } = await pieceOfFile(tx.client, intakeId, seq);
    if (rows[0]) yield* splitter.push(decoder.decode(rows[0].bytes), false);
  }
  yield* splitter.push(decoder.decode(), true);
}

/**
 * Makes a table of a file of cards, so that cards go the way of any file: a row for each, a column for every meaning and
 * label that occurs. The stored pieces are replaced by those of the table. A card that cannot be read keeps its text in
 * its row, which will be held.
 */
export async function takeCards(
  tx: Tx,
  intakeId: number,
  country: string,
  encoding: TextEncoding,
): Promise<TakenCards> {
  const pieces = await countPieces(tx.client, intakeId);
  const first = pieces.rows[0]?.n ?? 0;
  const table = new CardTable();
  const issues: Issue[] = [];
  let rowCount = 0;
  for await (const { text, line } of cardsOf(tx, intakeId, first, encoding.decoder)) {
    const card = readCard(text);
    table.learn(card.ok ? card.value : null);
    rowCount++;
    if (!card.ok && issues.length < NAMED)
      issues.push({ code: 'unreadableCard', why: card.error, row: rowCount, line, path: {} });
  }
  if (rowCount === 0) throw refuseIssue({ code: 'noDataRows', path: {} });

  // The table's pieces come after those of the cards, which are then dropped.
  let seq = first;
  let held = writeDelimitedLine(table.columns.map((column) => column.header));
  const flush = async () => {
    await insertPiece(tx.client, intakeId, seq++, Buffer.from(held));
    held = '';
  };
  const samples: string[][] = [];
  for await (const { text } of cardsOf(tx, intakeId, first, encoding.decoder)) {
    const card = readCard(text);
    const picture = card.ok && card.value.picture ? await pictureHash(tx, card.value.picture.base64) : '';
    const cells = card.ok ? table.row(card.value, picture) : table.row(null, '', text);
    if (samples.length < 200) samples.push(cells);
    held += writeDelimitedLine(cells);
    if (held.length > PIECE) await flush();
  }
  if (held) await flush();
  await deletePiecesBefore(tx.client, intakeId, first);
  await renumberPieces(tx.client, intakeId, first);
  return { ...(await describeTable(tx, table, samples, country)), issues, rowCount };
}

/** A picture of a card, kept as one chosen by hand would be; '' for one that cannot be read, which costs no row. */
async function pictureHash(tx: Tx, base64: string): Promise<string> {
  try {
    return (await keepPicture(tx, Buffer.from(base64, 'base64'))).hash;
  } catch {
    return '';
  }
}

async function describeTable(tx: Tx, table: CardTable, samples: readonly string[][], country: string) {
  const custom = (await loadCatalogue(tx.db)).fields.filter((field) => field.key.startsWith(CUSTOM_PREFIX));
  const guesses = guessCards(table.columns, samples, custom);
  const shape: DelimitedShape = {
    encoding: UTF8,
    delimiter: ',',
    quote: '"',
    headerRow: 1,
    headers: table.columns.map((column) => column.header),
    columnCount: table.columns.length,
    cards: true,
  };
  return { shape, guesses, mapping: defaultMapping(guesses, country, custom) };
}
