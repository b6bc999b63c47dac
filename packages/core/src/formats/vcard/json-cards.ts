import { writeCardText, type CardProperty } from './card-text';

type JCard = ['vcard', [name: string, params: Record<string, string | string[]>, type: string, ...values: unknown[]][]];

function isJCard(value: unknown): value is JCard {
  return (
    Array.isArray(value) &&
    value[0] === 'vcard' &&
    Array.isArray(value[1]) &&
    value[1].every(
      (one) =>
        Array.isArray(one) &&
        one.length >= 4 &&
        typeof one[0] === 'string' &&
        typeof one[1] === 'object' &&
        one[1] !== null &&
        typeof one[2] === 'string',
    )
  );
}

/** A list is what parts a structured value; a list in it is several texts for one part. */
function valueOf(value: unknown): string | string[] {
  if (!Array.isArray(value)) return String(value ?? '');
  return value.map((part) => (Array.isArray(part) ? part.map(String).join(', ') : String(part ?? '')));
}

/**
 * Cards written as JSON (jCard, RFC 7095), one or a list of them, as vCards of version 4: they are read as any others are.
 * Null where a text is no such JSON.
 */
export function cardsOfJson(text: string): string | null {
  let parsed: unknown;
  try {
    parsed = JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch {
    return null;
  }
  const cards = isJCard(parsed) ? [parsed] : parsed;
  if (!Array.isArray(cards) || !cards.length || !cards.every(isJCard)) return null;
  return cards
    .map(([, properties]) =>
      writeCardText({
        version: '4.0',
        properties: properties.map(([name, params, type, ...values]): CardProperty => {
          const { group: _group, ...others } = params;
          return { name, params: others, type, values: values.map(valueOf) };
        }),
      }),
    )
    .join('');
}
