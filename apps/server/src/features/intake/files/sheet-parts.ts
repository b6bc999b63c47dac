import { StringDecoder } from 'node:string_decoder';
import sax from 'sax';
import { openEntry, type Archive } from './archive';

type Attributes = Record<string, string>;
type Handlers = Partial<Record<'open' | 'close', (name: string, attributes: Attributes) => void>> & {
  text?: (text: string) => void;
  /** Asked between pieces: waits where what was made has to drain. */
  rest?: () => Promise<void>;
};

/** Names without the prefix of their namespace, which writers choose as they like. */
export const local = (name: string) => name.slice(name.indexOf(':') + 1);

/** Reads a part of a package as it is unpacked; nothing where the part is missing. */
export async function readPart(archive: Archive, path: string, { open, close, text, rest }: Handlers): Promise<void> {
  const entry = archive.entries.find(({ fileName }) => fileName === path);
  if (!entry) return;
  const parser = sax.parser(true, { position: false });
  parser.onerror = (error) => {
    throw error;
  };
  parser.onopentag = ({ name, attributes }) => open?.(local(name), attributes as Attributes);
  parser.onclosetag = (name) => close?.(local(name), {});
  if (text) {
    parser.ontext = text;
    parser.oncdata = text;
  }
  const decoder = new StringDecoder('utf8');
  for await (const piece of (await openEntry(archive, entry)) as AsyncIterable<Buffer>) {
    parser.write(decoder.write(piece));
    await rest?.();
  }
  parser.write(decoder.end()).close();
}
