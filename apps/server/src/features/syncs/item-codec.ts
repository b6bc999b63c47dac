import { deserialize, serialize } from 'node:v8';
import { deflateRawSync, inflateRawSync } from 'node:zlib';
import type { ItemCodec, PassItem } from '@gray-loom/core/syncing';

/** Fast rather than small: a page of items is a tenth of its size by then. */
const LEVEL = 1;

/** Packs planned items until they are written: a first pass plans for everybody at once. */
export const itemCodec: ItemCodec = {
  pack: (items) => deflateRawSync(serialize(items), { level: LEVEL }),
  unpack: (packed) => deserialize(inflateRawSync(packed)) as PassItem[],
};
