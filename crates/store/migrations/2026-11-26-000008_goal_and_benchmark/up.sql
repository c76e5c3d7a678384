-- What a player is to reach, and the tests that are repeated.
CREATE TABLE goal (
    school_id uuid NOT NULL,
    player_id uuid NOT NULL,
    club      text NOT NULL,
    quantity  text NOT NULL,
    value     double precision NOT NULL,
    by_day    date,
    set_at    timestamptz NOT NULL DEFAULT clock_timestamp(),
    PRIMARY KEY (school_id, player_id, club, quantity),
    FOREIGN KEY (school_id, player_id) REFERENCES player (school_id, id)
);
ALTER TABLE goal ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON goal USING (school_id = (SELECT tally_school()));
CREATE POLICY seen_player ON goal AS RESTRICTIVE
    USING ((SELECT tally_coach()) IS NULL OR player_id IN (SELECT id FROM player));

CREATE TABLE benchmark (
    school_id  uuid NOT NULL,
    id         uuid NOT NULL,
    player_id  uuid NOT NULL,
    session_id uuid,
    coach_id   uuid NOT NULL,
    name       text NOT NULL,
    club       text NOT NULL,
    held_on    date NOT NULL,
    made_at    timestamptz NOT NULL DEFAULT clock_timestamp(),
    -- With what and how many balls, and what they gave, as it was that day.
    setting    jsonb NOT NULL,
    figures    jsonb NOT NULL,
    dropped_at timestamptz,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, player_id) REFERENCES player (school_id, id),
    FOREIGN KEY (school_id, coach_id) REFERENCES coach (school_id, id),
    FOREIGN KEY (school_id, player_id, session_id)
        REFERENCES session (school_id, player_id, id)
        ON UPDATE CASCADE ON DELETE SET NULL (session_id)
);
CREATE INDEX benchmark_of_player ON benchmark (school_id, player_id, made_at);
CREATE INDEX benchmark_of_session ON benchmark (school_id, session_id);
ALTER TABLE benchmark ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON benchmark USING (school_id = (SELECT tally_school()));
CREATE POLICY seen_player ON benchmark AS RESTRICTIVE
    USING ((SELECT tally_coach()) IS NULL OR player_id IN (SELECT id FROM player));
