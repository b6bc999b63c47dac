import type { RecordKind } from '@gray-loom/core/model';
import { CATALOGUE_JSON, OWNERS_JSON, type CatalogueJson } from '../../../book/picks';
import type { Queryable } from '../../../db/connect';
import type { PickKind, TallyKind } from '../../../db/schema';

interface ListsRow {
  catalogue: CatalogueJson;
  picks: { kind: PickKind; label: string; meaning: string; colour: number }[];
  owners: [name: string, email: string][];
  counts: [kind: TallyKind, label: string, who: RecordKind, n: number][];
}

/** One statement, kept planned: every open page asks for the lists again whenever a contact changes. */
const LISTS = `select ${CATALOGUE_JSON} as catalogue,
  coalesce((select json_agg(json_build_object('kind', kind, 'label', label, 'meaning', meaning, 'colour', colour) order by ordinal, label)
    from pick), '[]') as picks,
  ${OWNERS_JSON} as owners,
  coalesce((select json_agg(json_build_array(kind, label, who, n))
    from (select kind, label, who, sum(n) as n from tally group by 1, 2, 3 having sum(n) <> 0) summed), '[]') as counts`;

export const selectLists = (client: Queryable) => client.query<ListsRow>({ name: 'lists', text: LISTS });
