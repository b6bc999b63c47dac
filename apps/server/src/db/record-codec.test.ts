import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { anyRecord } from '../../../../packages/core/src/testing/generators';
import { decodeRecord, encodeRecord, encodeRecordJson, type StoredRecord } from './record-codec';

test('decoding gives the same record back, by either way of writing', () => {
  fc.assert(
    fc.property(anyRecord(), fc.integer({ min: 1, max: 99 }), (record, row) => {
      for (const values of Object.values(record.f))
        values.forEach((value, i) => (i % 2 ? (value.row = row) : (value.label = 'home "x"')));
      expect(decodeRecord(JSON.parse(JSON.stringify(encodeRecord(record))) as StoredRecord)).toEqual(record);
      expect(decodeRecord(JSON.parse(encodeRecordJson(record)) as StoredRecord)).toEqual(record);
    }),
  );
});

test('the plain form reads as well', () => {
  expect(decodeRecord({ n: 1, f: { note: [{ slot: 0, v: 'x', run: 4 }] } })).toEqual({
    n: 1,
    f: { note: [{ slot: 0, v: 'x', run: 4 }] },
  });
});
