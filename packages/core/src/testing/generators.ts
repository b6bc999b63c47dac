import fc from 'fast-check';
import type { Operation } from '../model';
import type { ContactRecord, Value } from '../model';

const ONE = ['givenName', 'familyName', 'organization', 'bday', 'note'];
const MANY = ['email', 'tel', 'tags'];

const anyText = fc.constantFrom(
  'Ana',
  'ANA',
  'Tom',
  'Reis',
  'Okoro',
  'ana@example.org',
  '+441632960301',
  'regatta',
  'Tern Joinery',
  '1971-07-14',
);

function valueOf(slot: number): fc.Arbitrary<Value> {
  return fc.record({ v: anyText, run: fc.integer({ min: 1, max: 9 }) }).map(({ v, run }) => ({ slot, v, run }));
}

/** Records with some single-valued and some several-valued fields. */
export function anyRecord(): fc.Arbitrary<ContactRecord> {
  return fc
    .tuple(
      fc.tuple(...ONE.map(() => fc.option(valueOf(0)))),
      fc.array(fc.tuple(fc.constantFrom(...MANY), anyText, fc.integer({ min: 1, max: 9 })), { maxLength: 6 }),
    )
    .map(([ones, manys]) => {
      const f: Record<string, Value[]> = {};
      ones.forEach((value, i) => {
        if (value) f[ONE[i] as string] = [value];
      });
      manys.forEach(([field, v, run], i) => {
        f[field] = [...(f[field] ?? []), { slot: i + 1, v, run, rank: f[field]?.length ?? 0 }];
      });
      return { n: manys.length + 1, f };
    });
}

/** Operations that apply to a record: each slot is changed at most once. */
export function anyOperations(record: ContactRecord): fc.Arbitrary<Operation[]> {
  const slots = [
    ...ONE.map((field) => ({ field, slot: 0, before: record.f[field]?.[0] ?? null })),
    ...MANY.flatMap((field) => (record.f[field] ?? []).map((before) => ({ field, slot: before.slot, before }))),
    { field: 'email', slot: record.n, before: null },
  ];
  return fc.subarray(slots).chain((chosen) =>
    chosen.length === 0
      ? fc.constant([])
      : fc.tuple(...chosen.map(({ slot }) => fc.option(valueOf(slot)))).map((afters) =>
          chosen
            .map(({ field, slot, before }, i): Operation => ({
              target: 1,
              field,
              slot,
              before,
              after: afters[i] ?? null,
            }))
            .filter((operation) => operation.before !== null || operation.after !== null),
        ),
  );
}
