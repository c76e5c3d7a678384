-- What is swung in training, in which sets, over which weeks.
CREATE TABLE implement (
    school_id uuid NOT NULL REFERENCES school (school_id),
    id        uuid NOT NULL,
    -- Whose; the school's where nobody is named.
    player_id uuid,
    name      text NOT NULL,
    kind      text NOT NULL,
    mass_kg   double precision,
    length_m  double precision,
    added_at  timestamptz NOT NULL DEFAULT clock_timestamp(),
    left_at   timestamptz,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, player_id) REFERENCES player (school_id, id)
);
CREATE UNIQUE INDEX implement_name ON implement (school_id, player_id, lower(name))
    NULLS NOT DISTINCT WHERE left_at IS NULL;
ALTER TABLE implement ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON implement USING (school_id = (SELECT tally_school()));
CREATE POLICY seen_player ON implement AS RESTRICTIVE
    USING ((SELECT tally_coach()) IS NULL OR player_id IS NULL
        OR player_id IN (SELECT id FROM player));

-- A school's own protocols, and its changes to those that come with the house.
CREATE TABLE protocol (
    school_id  uuid NOT NULL REFERENCES school (school_id),
    id         uuid NOT NULL,
    body       jsonb NOT NULL,
    saved_at   timestamptz NOT NULL DEFAULT clock_timestamp(),
    dropped_at timestamptz,
    PRIMARY KEY (school_id, id)
);
ALTER TABLE protocol ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON protocol USING (school_id = (SELECT tally_school()));

CREATE TABLE programme (
    school_id uuid NOT NULL,
    id        uuid NOT NULL,
    player_id uuid NOT NULL,
    coach_id  uuid NOT NULL,
    body      jsonb NOT NULL,
    made_at   timestamptz NOT NULL DEFAULT clock_timestamp(),
    -- Another one was laid in its place.
    replaced_at timestamptz,
    PRIMARY KEY (school_id, id),
    UNIQUE (school_id, player_id, id),
    FOREIGN KEY (school_id, player_id) REFERENCES player (school_id, id),
    FOREIGN KEY (school_id, coach_id) REFERENCES coach (school_id, id)
);
CREATE UNIQUE INDEX programme_of_player ON programme (school_id, player_id)
    WHERE replaced_at IS NULL;
ALTER TABLE programme ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON programme USING (school_id = (SELECT tally_school()));
CREATE POLICY seen_player ON programme AS RESTRICTIVE
    USING ((SELECT tally_coach()) IS NULL OR player_id IN (SELECT id FROM player));

-- What changed the plan of a programme, in order: never overwritten.
CREATE TABLE programme_act (
    school_id    uuid NOT NULL,
    id           uuid NOT NULL,
    programme_id uuid NOT NULL,
    player_id    uuid NOT NULL,
    coach_id     uuid NOT NULL,
    made_at      timestamptz NOT NULL DEFAULT clock_timestamp(),
    act          jsonb NOT NULL,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, player_id, programme_id)
        REFERENCES programme (school_id, player_id, id),
    FOREIGN KEY (school_id, coach_id) REFERENCES coach (school_id, id)
);
CREATE INDEX programme_act_of ON programme_act (school_id, programme_id, made_at);
ALTER TABLE programme_act ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON programme_act USING (school_id = (SELECT tally_school()));
CREATE POLICY seen_player ON programme_act AS RESTRICTIVE
    USING ((SELECT tally_coach()) IS NULL OR player_id IN (SELECT id FROM player));

-- A session of a protocol; its sets are the session's blocks.
CREATE TABLE run (
    school_id    uuid NOT NULL,
    session_id   uuid NOT NULL,
    -- Ours have no row of their own.
    protocol_id  uuid NOT NULL,
    level        integer NOT NULL,
    lighter      boolean NOT NULL,
    -- No key: a session may be given to another player.
    programme_id uuid,
    -- Place of the programme's session that it is.
    place        integer,
    PRIMARY KEY (school_id, session_id),
    FOREIGN KEY (school_id, session_id) REFERENCES session (school_id, id) ON DELETE CASCADE
);
ALTER TABLE run ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON run USING (school_id = (SELECT tally_school()));

-- Addresses at which a calendar program reads a player's programme.
CREATE TABLE calendar_feed (
    school_id    uuid NOT NULL,
    id           uuid NOT NULL,
    player_id    uuid NOT NULL,
    coach_id     uuid NOT NULL,
    token_sha256 bytea NOT NULL,
    made_at      timestamptz NOT NULL DEFAULT clock_timestamp(),
    revoked_at   timestamptz,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, player_id) REFERENCES player (school_id, id),
    FOREIGN KEY (school_id, coach_id) REFERENCES coach (school_id, id)
);
CREATE INDEX calendar_feed_token ON calendar_feed (token_sha256);
CREATE INDEX calendar_feed_of_player ON calendar_feed (school_id, player_id);
ALTER TABLE calendar_feed ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON calendar_feed USING (school_id = (SELECT tally_school()));
CREATE POLICY seen_player ON calendar_feed AS RESTRICTIVE
    USING ((SELECT tally_coach()) IS NULL OR player_id IN (SELECT id FROM player));
