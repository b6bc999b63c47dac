import { declareRefusals, tooOften, unknownPerson } from '../../http/refusal';

export const refuse = declareRefusals({
  tooManyTries: tooOften('Too many tries that did not fit. Wait five minutes, then try again.'),
  wrongSignIn: unknownPerson('E-mail and password do not fit together. Check both and try again.'),
  codeWanted: unknownPerson('This account has a second factor. Type the code that the authenticator shows.'),
  wrongCode: unknownPerson(
    'This code does not fit, or was used already. Wait for the next one, or use a recovery code.',
  ),
  noAccounts: unknownPerson('Nobody has an account here yet. Make the first one.'),
  signedOut: unknownPerson('You are not signed in.'),
});
