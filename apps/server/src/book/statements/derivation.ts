import type { Area, FieldType, Weights } from '@gray-loom/core/fields';
import type { RemitParts } from '../../db/actor';
import type { Queryable } from '../../db/connect';

/** A remit whose people are counted. */
export interface CountedRemit extends RemitParts {
  accountId: number;
}

/** Where it is kept what completeness is made of. */
export const COMPLETENESS = 'completeness';

const REMITS = `select json_agg(json_build_object('accountId', account_id, 'owners', owners, 'sources', sources, 'tags', tags, 'areas', areas)
  order by account_id) from account_remit`;

export const selectDerivation = (client: Queryable) =>
  client.query<{
    areas: Area[] | null;
    fields: { key: string; type: FieldType | null }[] | null;
    remits: CountedRemit[] | null;
    weights: Weights | null;
  }>(`select (select value from setting where key = '${COMPLETENESS}') as weights,
       (select json_agg(json_build_object('name', name, 'rules', rules) order by ordinal, id) from area) as areas,
       (select json_agg(json_build_object('key', r.field, 'type', f.type))
          from field_rule r left join custom_field f on r.field = 'custom.' || f.id where r.unique_rule <> 'no') as fields,
       (${REMITS}) as remits`);

export const selectRemits = (client: Queryable) =>
  client.query<{ remits: CountedRemit[] | null }>(`select (${REMITS}) as remits`);
