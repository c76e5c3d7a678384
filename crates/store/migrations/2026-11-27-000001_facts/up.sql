-- What a coach knows of a player and notes of a session.
ALTER TABLE player
    ADD COLUMN height_m float8 CHECK (height_m BETWEEN 0.6 AND 2.5),
    ADD COLUMN mass_kg  float8 CHECK (mass_kg BETWEEN 10 AND 250),
    -- How they play; not known when absent.
    ADD COLUMN level    text,
    -- Since when they do not come any more; absent while they do.
    ADD COLUMN archived_at timestamptz;
ALTER TABLE session
    -- Whether it was under a roof; not known when absent.
    ADD COLUMN indoors boolean,
    ADD COLUMN note text NOT NULL DEFAULT '' CHECK (char_length(note) <= 4000),
    ADD COLUMN tags jsonb NOT NULL DEFAULT '[]';
