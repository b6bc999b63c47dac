import type { Readable } from 'node:stream';
import yauzl from 'yauzl';
import { refuseFile } from '../refusals';

const ENTRIES = 2000;

/** What to say of a package that cannot be opened. */
export const broken = (what: string, why: string) => refuseFile.brokenFile({ what, why });

export interface Archive {
  zip: yauzl.ZipFile;
  entries: yauzl.Entry[];
}

/** Opens a zip archive; to be closed by the caller. Errors: a refusal. */
export function openArchive(path: string): Promise<Archive> {
  return new Promise((resolve, reject) => {
    yauzl.open(path, { lazyEntries: true, autoClose: false }, (error, zip) => {
      if (error) {
        reject(broken('zip archive', error.message));
        return;
      }
      const entries: yauzl.Entry[] = [];
      zip.on('error', (wrong: Error) => reject(broken('zip archive', wrong.message)));
      zip.on('end', () => resolve({ zip, entries }));
      zip.on('entry', (entry: yauzl.Entry) => {
        entries.push(entry);
        if (entries.length > ENTRIES) reject(broken('zip archive', `it holds more than ${ENTRIES} files`));
        else zip.readEntry();
      });
      zip.readEntry();
    });
  });
}

/** One file of an archive, unpacked as it is read. */
export function openEntry({ zip }: Archive, entry: yauzl.Entry): Promise<Readable> {
  return new Promise((resolve, reject) => {
    zip.openReadStream(entry, (error, stream) =>
      error ? reject(broken('zip archive', error.message)) : resolve(stream),
    );
  });
}
