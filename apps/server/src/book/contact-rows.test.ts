import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { summarise } from '@gray-loom/core/fields';
import type { ContactRecord, Value } from '@gray-loom/core/model';
import { contactKeys, differsBeside, maySearchDiffer, movedKeys } from './contact-rows';
import type { Derivation } from './derivation';

const CONTENTS: Record<string, Value['v'][]> = {
  kind: ['organization'],
  givenName: ['Ana', 'Tom'],
  familyName: ['Reis', 'van der Quay'],
  organization: ['Quay Timber Ltd', 'Slip Works'],
  nickname: ['Nan'],
  email: ['ana@quay.example', 'tom@quay.example'],
  tel: ['+441632960301'],
  externalId: ['A-17'],
  adr: [{ street: '4 Slip Lane', locality: 'Falmouth' }, { locality: 'Oban' }],
  bday: ['1971-07-14'],
  title: ['Skipper', 'Rigger'],
  note: ['asked about planks'],
  stage: ['Student', 'Alumni'],
  source: ['Regatta'],
  owner: ['Ines'],
  tags: ['crew', 'gig'],
  related: [{ to: 7, kind: 'parent' } as unknown as Value['v'], { to: 9, kind: 'spouse' } as unknown as Value['v']],
  'custom.4': ['blue', 'red'],
};

const fields = Object.entries(CONTENTS).map(([field, contents]) =>
  fc
    .subarray(contents)
    .map((chosen): [string, Value[]] => [field, chosen.map((v, slot) => ({ slot, v, run: 1, rank: slot }))]),
);
const recordOf = (chosen: [string, Value[]][]): ContactRecord => ({
  n: 9,
  f: Object.fromEntries(chosen.filter(([, values]) => values.length)),
});

test.each<[string, Derivation]>([
  ['nothing more', { areas: [], uniqueFields: [], remits: [], weights: null }],
  [
    'a title and a field of their own to be unique',
    {
      areas: [],
      uniqueFields: [
        { key: 'title', type: 'text' },
        { key: 'custom.4', type: 'text' },
      ],
      remits: [],
      weights: null,
    },
  ],
])(
  'the keys that moved are those of all keys; where the search text may not differ, it is the same; with %s',
  (_, derivation) => {
    const seen = { beside: 0, more: 0, fewer: 0, text: 0 };
    fc.assert(
      fc.property(
        fc.tuple(...fields),
        fc.tuple(...fields),
        fc.subarray(Object.keys(CONTENTS), { maxLength: 3 }),
        (all, others, changed) => {
          const before = recordOf(all);
          // What is not changed is the very same.
          const after = recordOf(all.map((one, i) => (changed.includes(one[0]) ? (others[i] ?? one) : one)));
          const without = (keys: number[], others: number[]) => keys.filter((key) => !others.includes(key)).sort();
          const [old, now] = [contactKeys(before, derivation), contactKeys(after, derivation)];
          const [movedOld, movedNow] = movedKeys(before, after, derivation);
          expect([without(movedOld, movedNow), without(movedNow, movedOld)]).toEqual([
            without(old, now),
            without(now, old),
          ]);
          if (movedNow.length < now.length) seen.fewer++;
          seen[differsBeside(before, after, derivation) ? 'beside' : 'more']++;
          if (maySearchDiffer(before, after, derivation)) return;
          seen.text++;
          expect(summarise(after).searchText).toBe(summarise(before).searchText);
        },
      ),
      { numRuns: 1500 },
    );
    expect(Math.min(...Object.values(seen))).toBeGreaterThan(100);
  },
);
