ALTER TABLE session DROP COLUMN tags, DROP COLUMN note, DROP COLUMN indoors;
ALTER TABLE player
    DROP COLUMN archived_at, DROP COLUMN level, DROP COLUMN mass_kg, DROP COLUMN height_m;
