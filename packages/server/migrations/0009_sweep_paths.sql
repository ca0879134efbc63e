-- A sweep may run over the scene as well: its paths are those of the whole document.
UPDATE "sweeps" SET "axes" = (
  SELECT jsonb_agg(jsonb_set(axis, '{path}', to_jsonb('/' || "use" || '/' || (axis ->> 'path'))) ORDER BY place)
  FROM jsonb_array_elements("axes") WITH ORDINALITY AS listed(axis, place)
);
