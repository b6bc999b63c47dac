import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { ContactRecord, Value } from '../../model';
import { indexKeys } from './keys';
import { preparePerson } from './person';
import { factsOf, keyFactsOf } from './record-facts';

const TEXTS: Record<string, string[]> = {
  givenName: ['Ana', 'ana maria', 'Дмитрий', 'test', 'J'],
  additionalNames: ['Maria', 'de'],
  familyName: ['Reis', 'van der Quay', 'Pike Jr', 'Okoro III', '佐藤'],
  fullName: ['Ana "Nan" Reis', 'Reis, Ana', 'Dr Tom Okoro Jr.', '佐藤 花子'],
  suffix: ['Jr.', 'III', 'MSc'],
  nickname: ['Nan', 'Tommy'],
  organization: ['Quay Timber Ltd', 'Slip Works'],
  title: ['Skipper'],
  email: ['ana.reis@quay.example', 'info@quay.example', 'none@quay.example'],
  tel: ['+441632960301', '01632 960301', '000000'],
  bday: ['1971-07-14'],
};

test('look-up keys are made of names, mailboxes, phones and the organization alone', () => {
  const fields = Object.entries(TEXTS).map(([field, texts]) =>
    fc
      .array(fc.constantFrom(...texts), { maxLength: 2 })
      .map((chosen): [string, Value[]] => [field, chosen.map((v, i) => ({ slot: i, v, run: 1, rank: i }))]),
  );
  const address = { street: '4 Slip Lane', locality: 'Falmouth', postalCode: 'TR11 3AB' };
  fc.assert(
    fc.property(fc.tuple(...fields), (chosen) => {
      const record: ContactRecord = {
        n: 3,
        f: Object.fromEntries([
          ...chosen.filter(([, values]) => values.length),
          ['adr', [{ slot: 0, v: address, run: 1 }]],
        ]),
      };
      const [few, all] = [preparePerson(keyFactsOf(record)), preparePerson(factsOf(record))];
      expect(indexKeys(few)).toEqual(indexKeys(all));
      expect(few.organizationText).toBe(all.organizationText);
    }),
    { numRuns: 500 },
  );
});
