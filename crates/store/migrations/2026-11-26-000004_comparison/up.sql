-- What was compared for a player and how it came out: a new claim is held beside these.
CREATE TABLE comparison (
    school_id uuid NOT NULL,
    player_id uuid NOT NULL,
    key       text NOT NULL CHECK (char_length(key) = 64),
    made_at   timestamptz NOT NULL DEFAULT clock_timestamp(),
    told      jsonb NOT NULL,
    p         double precision NOT NULL CHECK (p BETWEEN 0 AND 1),
    PRIMARY KEY (school_id, player_id, key),
    FOREIGN KEY (school_id, player_id) REFERENCES player (school_id, id)
);
CREATE INDEX comparison_made ON comparison (school_id, player_id, made_at);
ALTER TABLE comparison ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON comparison USING (school_id = (SELECT tally_school()));
CREATE POLICY seen_player ON comparison AS RESTRICTIVE
    USING ((SELECT tally_coach()) IS NULL OR player_id IN (SELECT id FROM player));
