import { err, ok, type Result } from '../../model';
import { isPlaceholderText } from './scalar';

export interface EmailAddress {
  /** Trimmed, NFKC, domain in lower case. */
  norm: string;
  /** What two writings of one mailbox have in common: local part folded to lower case, +tag dropped. */
  key: string;
  local: string;
  domain: string;
}

export type EmailFault = 'noAt' | 'noDomainEnding' | 'blankInside' | 'malformed';

/** A mailbox with all that may stand beside it is no longer than this; what is longer is not looked at. */
const LONGEST = 1000;
const UNSEEN = /[\u00ad\u200b-\u200f\u2060\ufeff]/g;
const LOCAL = /^[^\s@"(),:;<>[\]\\]+$/u;
// Most addresses are plain ASCII in small letters; this agrees with the long way on them.
const PLAIN = /^[a-z0-9][a-z0-9_+-]*(?:\.[a-z0-9_+-]+)*@(?:[a-z0-9](?:[a-z0-9-]*[a-z0-9])?\.)+[a-z]{2,}$/;
const LABEL = /^[\p{L}\p{N}](?:[\p{L}\p{N}-]*[\p{L}\p{N}])?$/u;
const ROLES = new Set(
  (
    'info office contact mail post kontakt admin administrator hello enquiries enquiry inquiries sales support ' +
    'bookings orders order accounts billing reception team school secretary webmaster noreply no-reply help service ' +
    'services'
  ).split(' '),
);

/**
 * Reads one e-mail address, with or without a display name ("Ana <ana@example.org>") or mailto:.
 * Source: RFC 5321 and 6531 in the part people use; quoted local parts and address literals are refused.
 */
export function parseEmail(text: string): Result<EmailAddress, EmailFault> {
  if (text.length > LONGEST) return err(text.includes('@') ? 'malformed' : 'noAt');
  if (PLAIN.test(text) && !text.includes('..') && text.length < 255) {
    const at = text.indexOf('@');
    return ok({
      norm: text,
      key: text.includes('+') ? emailKey(text) : text,
      local: text.slice(0, at),
      domain: text.slice(at + 1),
    });
  }
  // Characters without width come along when an address is copied; a full stop is that of its sentence.
  let plain = text
    .normalize('NFKC')
    .replace(UNSEEN, '')
    .trim()
    .replace(/[.,;:]+$/, '');
  const angled = /^[^<>]*<([^<>]+)>$/.exec(plain);
  if (angled?.[1]) plain = angled[1].trim();
  plain = withoutRemarks(plain);
  if (/^mailto:/i.test(plain)) plain = plain.slice(7).replace(/\?.*$/, '');
  const at = plain.indexOf('@');
  if (at < 0) return err('noAt');
  if (/\s/.test(plain)) return err('blankInside');
  const local = plain.slice(0, at);
  const domain = plain.slice(at + 1).toLowerCase();
  if (!local || !domain || domain.includes('@') || !LOCAL.test(local)) return err('malformed');
  if (local.startsWith('.') || local.endsWith('.') || local.includes('..') || plain.length > 254)
    return err('malformed');
  const labels = domain.split('.');
  if (labels.length < 2) return err('noDomainEnding');
  if (!labels.every((label) => LABEL.test(label))) return err('malformed');
  if (!/^(?:\p{L}{2,}|xn--[a-z0-9-]+)$/u.test(labels[labels.length - 1] ?? '')) return err('noDomainEnding');
  return ok({ norm: `${local}@${domain}`, key: emailKey(`${local}@${domain}`), local, domain });
}

/** An address with a word about it before a colon or in brackets, or that stands in brackets behind a name. */
function withoutRemarks(text: string): string {
  if (!/[\s/]/.test(text)) return text;
  const found =
    /^(?:[\p{L}\-. ]{1,20}:\s*)?(\S+@\S+?)\/?(?:\s*[([][^@()[\]]*[)\]])?$/u.exec(text) ??
    /^[^@()[\]]+[([]\s*(\S+@\S+?)\s*[)\]]$/u.exec(text);
  return found?.[1] ?? text;
}

/**
 * The address that a text most likely means which is none as it stands: "ana (at) example dot org", "ana @example.org",
 * "ana,reis@example.org". Null where nothing of that kind makes it one. For comparing and for asking, never to be written unasked.
 */
export function meantEmail(text: string): EmailAddress | null {
  if (text.length > LONGEST) return null;
  const mended = text
    .trim()
    .replace(/\s*[([{<]\s*(?:at|@)\s*[)\]}>]\s*|\s+at\s+|\s*@\s*/i, '@')
    .replace(/\s*[([{<]\s*(?:dot|\.)\s*[)\]}>]\s*|\s+dot\s+/gi, '.')
    .replace(/(?<=[^\s,])\s*,\s*(?=[^\s,])|\.{2,}/g, '.');
  const parsed = parseEmail(mended);
  return parsed.ok ? parsed.value : null;
}

const BETWEEN_MAILBOXES = /[\s;,|]/;
/** One address in which a comma stands for a full stop: ana,reis@example.org, ana@example,org. */
const COMMA_FOR_STOP = /^(?:[\p{L}\d._+-]+,[\p{L}\d._+-]+@[^\s@,;|<>]+|[^\s@,;|<>]+@[\p{L}\d-]+,\p{L}{2,6})$/u;

/** Pieces between marks that stand in no quotes; what has no @ goes with the next, as "Reis, Ana <ana@example.org>" does. */
function piecesOf(text: string): string[] {
  const pieces = text.match(/(?:"[^"]*"|[^",;|\n])+/g) ?? [];
  if (!text.includes('<')) return pieces;
  const whole: string[] = [];
  let before = '';
  for (const piece of pieces) {
    const joined = before ? `${before}, ${piece.trim()}` : piece;
    if (joined.includes('@')) {
      whole.push(joined);
      before = '';
    } else before = joined.trim();
  }
  return before ? [...whole, before] : whole;
}

/** The addresses of a text: parted by marks or small words, or by blanks where each piece has an @ of its own. */
export function mailboxesIn(text: string): string[] {
  if (!BETWEEN_MAILBOXES.test(text)) return [text];
  if (COMMA_FOR_STOP.test(text.trim()) && !isPlaceholderText(text.slice(0, text.indexOf(',')))) return [text];
  const parts = piecesOf(text)
    .flatMap((piece) => piece.split(/(?<=@\S+)\s+(?:\/|and|or|und|oder|et|ou|y|o|e|en|of)\s+/i))
    .map((part) => part.trim())
    .filter(Boolean);
  return parts.flatMap((part) => {
    const pieces = part.split(/\s+/);
    return pieces.length > 1 && pieces.every((piece) => /^[^<>@]+@[^<>@]+$/.test(piece)) ? pieces : [part];
  });
}

const BRACKET = /[<([]/;

/** The name that stands beside a mailbox ("Ana Reis <ana@example.org>", "Ana Reis (ana@example.org)"), or null. */
export function nameBeside(text: string): string | null {
  if (text.length > LONGEST || !BRACKET.test(text)) return null;
  const found =
    /^\s*(?:"([^"<>@]+)"|'([^'<>@]+)'|([^"<>@()[\]]+?))\s*(?:<[^<>]+@[^<>]+>|[([][^()[\]]+@[^()[\]]+[)\]])/.exec(text);
  const name = (found?.[1] ?? found?.[2] ?? found?.[3] ?? '').trim();
  return /\p{L}/u.test(name) ? name : null;
}

/** The match key of an address in normal form. */
export function emailKey(norm: string): string {
  const at = norm.lastIndexOf('@');
  if (at < 0) return norm.toLowerCase();
  const local = norm.slice(0, at).toLowerCase();
  const plus = local.indexOf('+');
  return `${plus > 0 ? local.slice(0, plus) : local}@${norm.slice(at + 1).toLowerCase()}`;
}

const ENDS_PLAIN = /[^.\d_]$/;

/** Whether the local part names an office rather than a person (info@, orders@). */
export function isRoleMailbox(local: string): boolean {
  const plain = local.toLowerCase();
  return ROLES.has(ENDS_PLAIN.test(plain) ? plain : plain.replace(/[.\d_]+$/, ''));
}
