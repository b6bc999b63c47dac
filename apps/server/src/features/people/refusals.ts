import { declareRefusals, tooOften, unknownPerson } from '../../http/refusal';

export const refuse = declareRefusals({
  tooManyTries: tooOften('Too many tries with a wrong password. Wait five minutes, then try again.'),
  wrongSignIn: unknownPerson('E-mail and password do not fit together. Check both and try again.'),
  signedOut: unknownPerson('You are not signed in.'),
});
