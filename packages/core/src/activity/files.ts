import { wordTable } from '../model';
/** Largest file that is kept on a contact, in bytes. */
export const FILE_LIMIT_BYTES = 25 * 1024 * 1024;
/** Characters of its name. */
const MOST_NAME = 200;

export interface FileFault {
  code: 'tooLarge' | 'empty' | 'program' | 'noName';
  name: string;
  /** What its content is, in words. */
  is: string;
}

/** Contents that run, or unpack into what runs, when they are opened. */
const PROGRAMS = wordTable({
  'application/x-msdownload': 'a program for Windows',
  'application/x-dosexec': 'a program for Windows',
  'application/x-elf': 'a program for Linux',
  'application/x-mach-binary': 'a program for a Mac',
  'application/wasm': 'a program for a browser',
  'application/java-vm': 'a program for Java',
  'application/java-archive': 'a program for Java',
  'application/vnd.android.package-archive': 'a program for a telephone',
  'application/x-apple-diskimage': 'a disk image',
  'application/x-deb': 'a package of programs',
  'application/x-rpm': 'a package of programs',
  'application/vnd.ms-cab-compressed': 'a package of programs',
  'application/x.ms.shortcut': 'a shortcut to a program',
  'application/x.apple.alias': 'a shortcut to a program',
  'application/x-ms-regedit': 'a change to the settings of Windows',
  'application/x-shockwave-flash': 'a program for a browser',
  'application/x-google-chrome-extension': 'a program for a browser',
  'application/x-xpinstall': 'a program for a browser',
  'application/x-asar': 'a package of programs',
  'text/x-script': 'a script',
});
/** Ends of names that a computer runs whatever the content is. */
const RUN_BY_NAME =
  /\.(?:exe|com|scr|pif|bat|cmd|ps1|vbs|vbe|js|jse|wsf|hta|msi|msp|lnk|jar|apk|app|dmg|deb|rpm|sh|reg|cpl)$/i;

/** The name of a file without folders, without what cannot be in a name, and not too long; empty where nothing is left. */
export function nameOfFile(given: string): string {
  const last = given.normalize('NFC').split(/[\\/]/).pop() ?? '';
  // Marks that turn the direction of writing can make "exe.png" of "gnp.exe".
  const plain = last
    .replace(/[\p{Cc}\p{Cf}\u2028\u2029]/gu, '')
    .replace(/\s+/g, ' ')
    .trim();
  if (plain.length <= MOST_NAME) return plain;
  const end = /\.[A-Za-z0-9]{1,8}$/.exec(plain)?.[0] ?? '';
  return `${plain.slice(0, MOST_NAME - end.length - 1)}…${end}`;
}

/** What is wrong with a file, by its name and by what its content is; null where it can be kept. */
export function faultOfFile({
  name,
  mediaType,
  bytes,
}: {
  name: string;
  mediaType: string;
  bytes: number;
}): FileFault | null {
  const is = PROGRAMS[mediaType] ?? typeInWords(mediaType);
  if (!name || /^\.+$/.test(name)) return { code: 'noName', name, is };
  if (bytes === 0) return { code: 'empty', name, is };
  if (bytes > FILE_LIMIT_BYTES) return { code: 'tooLarge', name, is };
  if (PROGRAMS[mediaType]) return { code: 'program', name, is };
  return RUN_BY_NAME.test(name) ? { code: 'program', name, is: 'a program by its name' } : null;
}

const LIMIT_WORDS = `${FILE_LIMIT_BYTES / 1024 / 1024} MB`;

/** What is wrong with a file, in words. */
export function sayFileFault({ code, name, is }: FileFault): string {
  switch (code) {
    case 'noName':
      return 'This file has no name. Give it one and put it here again.';
    case 'empty':
      return `‘${name}’ is empty. Nothing was kept.`;
    case 'tooLarge':
      return `‘${name}’ is larger than ${LIMIT_WORDS}, the most that is kept of one file. Make it smaller, or keep it elsewhere and note where.`;
    case 'program':
      return `‘${name}’ is ${is}. Programs are not kept with contacts, since whoever opens one runs it.`;
  }
}

const WORDS = wordTable({
  'image/jpeg': 'JPEG picture',
  'image/png': 'PNG picture',
  'image/webp': 'WebP picture',
  'image/gif': 'GIF picture',
  'image/tiff': 'TIFF picture',
  'image/svg+xml': 'SVG drawing',
  'application/pdf': 'PDF',
  'text/plain': 'text',
  'text/html': 'web page',
  'application/zip': 'ZIP archive',
  'application/rtf': 'text document',
  'application/vnd.openxmlformats-officedocument.wordprocessingml.document': 'text document',
  'application/vnd.oasis.opendocument.text': 'text document',
  'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet': 'spreadsheet',
  'application/vnd.oasis.opendocument.spreadsheet': 'spreadsheet',
  'application/vnd.openxmlformats-officedocument.presentationml.presentation': 'presentation',
  'application/octet-stream': 'file',
});

/** What a content is called. */
export const typeInWords = (mediaType: string): string =>
  WORDS[mediaType] ??
  (/^(audio|video|image)\//.test(mediaType)
    ? `${{ a: 'sound', v: 'film', i: 'picture' }[mediaType.charAt(0)] ?? 'file'} (${mediaType.split('/')[1] ?? ''})`
    : 'file');

/** How a content is shown: a picture is drawn anew first, a PDF by the browser; everything else is only handed out. */
export const shownAs = (mediaType: string): 'picture' | 'pdf' | null =>
  ['image/jpeg', 'image/png', 'image/webp', 'image/gif', 'image/tiff'].includes(mediaType)
    ? 'picture'
    : mediaType === 'application/pdf'
      ? 'pdf'
      : null;
