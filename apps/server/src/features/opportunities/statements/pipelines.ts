import { selectRecords } from '../../../db/record-codec';
import { type LoadedContact } from '../../../book/write-contacts';
import type { Queryable } from '../../../db/connect';

export const lockPlace = (client: Queryable, pipeline: string, stage: string) =>
  selectRecords<LoadedContact>(
    client,
    `select id, version, record from contact where kind = 'opportunity' and state = 'live' and stage = $2
       and record->'f'->'opportunityPipeline'->0->>'v' = $1`,
    [pipeline, stage],
  );
