import { decodeHTMLStrict } from 'entities/lib/decode.js';
import { repairMojibake } from './mojibake';

/** A letter as web pages write it: "&eacute;", "&#233;", "&#xE9;". */
const ENTITY = /&(?:[a-z]{2,8}\d{0,2}|#\d{2,6}|#x[\da-f]{2,5});/i;
/** Letters that were broken twice are mended twice. */
const MOST_TIMES = 3;

/**
 * Text whose letters came in broken, made whole: UTF-8 that was read as windows-1252 ("JosÃ©"), and letters as web pages write
 * them (HTML character references, "Jos&eacute;"). Text that is not broken comes back as it is.
 */
export function mendLetters(text: string): string {
  let mended = text;
  for (let i = 0; i < MOST_TIMES; i++) {
    const before = mended;
    mended = repairMojibake(mended);
    if (ENTITY.test(mended)) mended = decodeHTMLStrict(mended);
    if (mended === before) break;
  }
  return mended;
}
