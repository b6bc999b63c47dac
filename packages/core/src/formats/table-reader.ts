import { DelimitedReader, type DelimitedOptions, type DelimitedRecord } from './delimited-reader';
import type { TextEncoding } from './sniff-bytes';
import { openDecoder, type PieceDecoder } from './text-decoder';

/** Reads a table out of bytes, piece by piece: the one way in which a file is read once it is known how. */
export class TableReader {
  private readonly decoder: PieceDecoder;
  private readonly reader: DelimitedReader;

  constructor({ encoding, ...options }: DelimitedOptions & { encoding: TextEncoding }) {
    this.decoder = openDecoder(encoding.decoder);
    this.reader = new DelimitedReader(options);
  }

  /** The records that end in the next piece; without a piece, those that are left. */
  push(piece?: Uint8Array): DelimitedRecord[] {
    return this.reader.push(this.decoder.decode(piece), piece === undefined);
  }

  /** Whether a quotation mark was opened and never closed. */
  get unclosedQuote(): boolean {
    return this.reader.unclosedQuote;
  }
}
