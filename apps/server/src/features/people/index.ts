export { fromOf, giveCookie, sessionIn } from './session-routes';
export { newRecoveryCodes, newSecret, sealSecret, stepOf } from './second-factor';
export { hashPassword, openSession, passwordFits, tokenHash } from './sign-in';
export { countTry, forgetTry } from './sign-in-tries';
