import {
  declareRefusals,
  forbidden,
  invalid,
  malformed,
  missing,
  otherMediaType,
  outOfStorage,
  tooLarge,
  unavailable,
  unknownPerson,
} from './refusal';

/** What is refused of any request, before or instead of what it asks for. */
export const refuse = declareRefusals({
  foreignOrigin: forbidden('The request comes from another page and was refused.'),
  noSuchThing: missing('There is nothing at this address.'),
  signedOut: unknownPerson('You are not signed in, or your session ended. Sign in again; what you typed is kept.'),
  notAllowed: forbidden(
    ({ may }: { may: string }) =>
      `Only ${may === 'editor' ? 'editors and administrators' : 'administrators'} may do this.`,
  ),
  wholeBookOnly: forbidden(
    'This is about everybody in the book, and you see a part of it. Ask somebody who sees everybody.',
  ),
  tooLarge: tooLarge(
    ({ limitBytes }: { limitBytes: number }) =>
      `The request is larger than the ${limitBytes.toLocaleString('en')} bytes it may have.`,
  ),
  unknownMediaType: otherMediaType('The body of this request has to be JSON (Content-Type: application/json).'),
  notJson: malformed('The request is not JSON.'),
  invalid: invalid(({ errors }: { errors: { field: string; text: string }[] }) =>
    errors.map(({ text }) => text).join(' '),
  ),
  badText: invalid(
    ({ field }: { field: string }) =>
      `${field} holds a character that cannot be kept (NUL, or half of a character). Take it out and try again.`,
  ),
  tooDeep: invalid(
    ({ field }: { field: string }) =>
      `${field || 'The request'} holds parts within parts, more than 40 levels deep. Take some of them apart and try again.`,
  ),
  notNow: unavailable(
    ({ why }: { why: string }) =>
      `It could not be done just now, since ${why}. Nothing was changed; try again in a moment.`,
  ),
  outOfRoom: outOfStorage(({ what }: { what: string }) => `${what} Nothing was changed. Make room, then try again.`),
});
