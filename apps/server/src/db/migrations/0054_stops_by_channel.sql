-- Channels rather than a yes or no; the next pass asks anew in any case.
UPDATE "connection" SET "capabilities" = jsonb_set("capabilities", '{keepsStops}', CASE WHEN "kind" = 'dialer' THEN '["call"]'::jsonb ELSE '[]'::jsonb END)
WHERE jsonb_typeof("capabilities"->'keepsStops') = 'boolean';
