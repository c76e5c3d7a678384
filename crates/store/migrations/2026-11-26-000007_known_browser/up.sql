-- A browser that somebody has signed in with: their tries from it are counted by
-- themselves, so that whoever guesses elsewhere does not make them wait.
CREATE TABLE known_browser (
    school_id    uuid NOT NULL,
    id           uuid NOT NULL,
    coach_id     uuid NOT NULL,
    token_sha256 bytea NOT NULL,
    used_at      timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, coach_id) REFERENCES coach (school_id, id) ON DELETE CASCADE
);
CREATE INDEX known_browser_coach ON known_browser (school_id, coach_id);
ALTER TABLE known_browser ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON known_browser USING (school_id = (SELECT tally_school()));
