import type { Channel } from '../../writing';

/** What stands behind a list of people: how they came to allow what is sent to them. Kept with each of them. */
export interface FileConsent {
  channels: Channel[];
  /** How it was obtained, such as "ticked on the sign-up sheet". */
  how: string;
  /** The day it was obtained, ISO 8601. */
  statedAt: string;
  by: string;
  /** The words people agreed to. */
  textShown: string;
  /** How recently they were in touch. */
  lastTouch: string;
  /** Whom the list was had from; '' where it is one's own. */
  hadFrom: string;
}

/** The evidence in a sentence, as it stands with each contact. */
export function consentWords({ how, by, textShown, lastTouch, hadFrom }: FileConsent): string {
  return [
    how.trim(),
    by.trim() ? `obtained by ${by.trim()}` : '',
    textShown.trim() ? `text shown: "${textShown.trim()}"` : '',
    lastTouch.trim() ? `last in touch ${lastTouch.trim()}` : '',
    hadFrom.trim() ? `list had from ${hadFrom.trim()}` : 'our own list',
  ]
    .filter(Boolean)
    .join('; ');
}
