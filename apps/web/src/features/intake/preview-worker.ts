import { FileReading, guessesOf, type ColumnGuess } from '@gray-loom/core/mapping';
import { wordIssue } from '@gray-loom/core/model';
import {
  isOtherXml,
  looksLikeMessage,
  openDecoder,
  sniffEncoding,
  TEXT_KIND_NAMES,
  textKind,
  type DelimitedSniff,
} from '@gray-loom/core/formats';

/** What is seen of a file before the server has it. */
export interface FileLook {
  shape: DelimitedSniff['shape'];
  guesses: Pick<ColumnGuess, 'field' | 'label' | 'certainty01'>[];
  /** First rows of data. */
  rows: string[][];
  /** Rows counted so far, and whether these are all. */
  rowCount: number;
  done: boolean;
}

export type PreviewMessage =
  | { kind: 'look'; look: FileLook }
  | { kind: 'cards' }
  | { kind: 'message' }
  | { kind: 'records'; what: string }
  | { kind: 'packed' }
  | { kind: 'wrong'; why: string };

const ROWS = 6;
/** Bytes of the beginning that tell what a file is. */
const LOOKED_AT = 16_000;
/** Signs of what is opened by the server: zip (and spreadsheets), gzip. */
const PACKED = [
  [0x50, 0x4b, 0x03, 0x04],
  [0x1f, 0x8b],
];

const post = (message: PreviewMessage) => self.postMessage(message);

function lookOf(sniff: DelimitedSniff, rowCount: number, done: boolean): FileLook {
  return {
    shape: sniff.shape,
    guesses: guessesOf(sniff).map(({ field, label, certainty01 }) => ({ field, label, certainty01 })),
    rows: sniff.sample.slice(0, ROWS).map((cells) => [...cells]),
    rowCount,
    done,
  };
}

async function look(file: File): Promise<void> {
  const head = new Uint8Array(await file.slice(0, LOOKED_AT).arrayBuffer());
  if (PACKED.some((sign) => sign.every((byte, i) => head[i] === byte))) {
    post({ kind: 'packed' });
    return;
  }
  const encoding = sniffEncoding(head);
  if (encoding.ok) {
    const beginning = openDecoder(encoding.value.decoder).decode(head);
    if (looksLikeMessage(beginning)) return post({ kind: 'message' });
    if (isOtherXml(beginning))
      return post({ kind: 'wrong', why: wordIssue({ code: 'notATable', kind: 'an XML document', path: {} }) });
    const kind = textKind(beginning);
    if (kind) return post({ kind: 'records', what: TEXT_KIND_NAMES[kind] });
  }
  const reading = new FileReading();
  const reader = file.stream().getReader();
  let shown = false;
  for (;;) {
    const { done, value } = await reader.read();
    if (done) break;
    const issue = reading.push(value);
    if (issue) {
      post({ kind: 'wrong', why: wordIssue(issue) });
      return;
    }
    // A long file is shown as soon as its beginning has passed; its rows are counted meanwhile.
    if (reading.sniff && !shown) {
      shown = true;
      post({ kind: 'look', look: lookOf(reading.sniff, 0, false) });
    }
  }
  const read = reading.end();
  if (!read.ok) post({ kind: 'wrong', why: wordIssue(read.error) });
  else if (read.value.kind === 'cards') post({ kind: 'cards' });
  else post({ kind: 'look', look: lookOf(read.value.sniff, read.value.rowCount, true) });
}

self.onmessage = ({ data }: MessageEvent<File>) => {
  look(data).catch(() => post({ kind: 'wrong', why: 'The file cannot be opened any more. Was it moved?' }));
};
