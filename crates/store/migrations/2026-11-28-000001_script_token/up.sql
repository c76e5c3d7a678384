-- What a script speaks with, in the name of the one who made it, until a day.
CREATE TABLE script_token (
    school_id    uuid NOT NULL,
    id           uuid NOT NULL,
    coach_id     uuid NOT NULL,
    name         text NOT NULL,
    -- No more than this, and no more than its maker is at the time.
    role         text NOT NULL,
    changes      boolean NOT NULL,
    token_sha256 bytea NOT NULL,
    made_at      timestamptz NOT NULL DEFAULT now(),
    used_at      timestamptz,
    until        timestamptz NOT NULL,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, coach_id) REFERENCES coach (school_id, id) ON DELETE CASCADE
);
CREATE INDEX script_token_secret ON script_token (token_sha256);
CREATE INDEX script_token_coach ON script_token (school_id, coach_id);
ALTER TABLE script_token ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON script_token USING (school_id = (SELECT tally_school()));
