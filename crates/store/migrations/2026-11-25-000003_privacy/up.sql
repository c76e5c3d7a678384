-- A guardian's consent to keep a child's records.
ALTER TABLE player
    ADD guardian text NOT NULL DEFAULT '' CHECK (char_length(guardian) <= 200),
    ADD consent_on date,
    ADD CHECK (consent_on IS NULL OR guardian <> '');

-- Who did or saw what, never overwritten. A player may be gone from it: then the number
-- alone is left.
CREATE TABLE audit (
    school_id uuid NOT NULL,
    id        uuid NOT NULL,
    coach_id  uuid NOT NULL,
    at        timestamptz NOT NULL DEFAULT clock_timestamp(),
    act       text NOT NULL CHECK (act IN
        ('child_read', 'export', 'archive', 'erasure', 'role', 'consent', 'sharing')),
    player_id uuid,
    about     text NOT NULL DEFAULT '' CHECK (char_length(about) <= 1000),
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, coach_id) REFERENCES coach (school_id, id)
);
CREATE INDEX audit_at ON audit (school_id, at);
CREATE INDEX audit_player ON audit (school_id, player_id, coach_id, at);
ALTER TABLE audit ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON audit USING (school_id = (SELECT tally_school()));

-- A page that a player reads without signing in, for a while.
CREATE TABLE player_link (
    school_id    uuid NOT NULL,
    id           uuid NOT NULL,
    player_id    uuid NOT NULL,
    coach_id     uuid NOT NULL,
    token_sha256 bytea NOT NULL,
    decisions    boolean NOT NULL,
    sessions     boolean NOT NULL,
    made_at      timestamptz NOT NULL DEFAULT now(),
    until        timestamptz NOT NULL,
    revoked_at   timestamptz,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, player_id) REFERENCES player (school_id, id) ON DELETE CASCADE,
    FOREIGN KEY (school_id, coach_id) REFERENCES coach (school_id, id) ON DELETE CASCADE
);
CREATE INDEX player_link_token ON player_link (token_sha256);
CREATE INDEX player_link_player ON player_link (school_id, player_id);
ALTER TABLE player_link ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON player_link USING (school_id = (SELECT tally_school()));
CREATE POLICY seen_player ON player_link AS RESTRICTIVE
    USING ((SELECT tally_coach()) IS NULL OR player_id IN (SELECT id FROM player));
