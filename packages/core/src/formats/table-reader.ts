import { DelimitedReader, type DelimitedOptions, type DelimitedRecord, type StrayQuote } from './delimited-reader';
import type { TextEncoding } from './sniff-bytes';
import { openDecoder, type PieceDecoder } from './text-decoder';

/** Reads a table out of bytes, piece by piece: the one way in which a file is read once it is known how. */
export class TableReader {
  private readonly decoder: PieceDecoder;
  private readonly reader: DelimitedReader;

  constructor({ encoding, ...options }: DelimitedOptions & { encoding: TextEncoding }) {
    const { delimiter, quote, escape, mixedLines, columnCount } = options;
    this.decoder = openDecoder(encoding.decoder);
    this.reader = new DelimitedReader({ delimiter, quote, escape, mixedLines, columnCount });
  }

  /** The records that end in the next piece; without a piece, those that are left. */
  push(piece?: Uint8Array): DelimitedRecord[] {
    return this.reader.push(this.decoder.decode(piece), piece === undefined);
  }

  /** Lines whose quotation mark is opened and never closed. */
  get strays(): readonly StrayQuote[] {
    return this.reader.strays;
  }
}
