-- Who is here already is found by titles, legal names, nicknames, notes, streets and towns too. The application folds what it
-- writes from now on; this comes as near as SQL does.
UPDATE "contact_search" s SET "text" = s."text" || ' ' || found.words
FROM (
  SELECT c.id, trim(regexp_replace(regexp_replace(normalize(
    replace(replace(replace(replace(replace(lower(string_agg(left(said.words, 2000), ' ')), '''', ''), 'ß', 'ss'), 'ø', 'o'), 'æ', 'ae'), 'ł', 'l'),
    NFD), '[\u0300-\u036f]', '', 'g'), '[^a-z0-9]+', ' ', 'g')) AS words
  FROM "contact" c CROSS JOIN LATERAL (
    SELECT val->>'v' AS words
    FROM unnest(array['nickname', 'title', 'legalName', 'note']) AS field, json_array_elements(coalesce(c."record"->'f'->field, '[]')) AS val
    UNION ALL
    SELECT concat_ws(' ', val->'v'->>'street', val->'v'->>'locality')
    FROM json_array_elements(coalesce(c."record"->'f'->'adr', '[]')) AS val
    WHERE json_typeof(val->'v') = 'object'
  ) said
  GROUP BY c.id
) found
WHERE found.id = s.contact_id AND found.words <> '';
