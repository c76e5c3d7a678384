-- What lists are put in order by goes out as it is kept: of thousands of players, making text of
-- jsonb takes as long as all else of the look.
ALTER TABLE player_standing DROP COLUMN heads;
ALTER TABLE player_standing
    ADD heads text GENERATED ALWAYS AS (flag_heads(told)::text) STORED;

-- Children of whom no consent is noted are few, and looked for on every morning.
CREATE INDEX player_without_consent ON player (school_id, born)
    WHERE consent_on IS NULL AND archived_at IS NULL;
