import type { Area, FieldType } from '@gray-loom/core/fields';
import type { Queryable } from '../../db/connect';

export const selectDerivation = (client: Queryable) =>
  client.query<{
    areas: Area[] | null;
    fields: { key: string; type: FieldType | null }[] | null;
  }>(`select (select json_agg(json_build_object('name', name, 'rules', rules) order by ordinal, id) from area) as areas,
       (select json_agg(json_build_object('key', r.field, 'type', f.type))
          from field_rule r left join custom_field f on r.field = 'custom.' || f.id where r.unique_rule <> 'no') as fields`);
