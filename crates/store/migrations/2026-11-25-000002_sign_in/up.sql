-- Who is in a school, what they may do, and how they show who they are.
ALTER TABLE school ADD demo boolean NOT NULL DEFAULT false;
ALTER TABLE coach
    ADD role text NOT NULL DEFAULT 'coach' CHECK (role IN ('owner', 'coach', 'assistant')),
    ADD left_at timestamptz;
-- Until now each school had one.
UPDATE coach SET role = 'owner';

-- Stays out of archives. A global index would break the rule that every key begins with
-- school_id, so the names are kept apart under a lock instead.
CREATE TABLE credential (
    school_id     uuid NOT NULL,
    coach_id      uuid NOT NULL,
    sign_in_name  text NOT NULL CHECK (char_length(sign_in_name) BETWEEN 1 AND 100),
    password_hash text,
    -- A one-time code for a new password.
    code_sha256   bytea,
    code_until    timestamptz,
    -- The second factor; asked for once it was confirmed.
    totp_secret   bytea,
    totp_from     timestamptz,
    totp_step     bigint NOT NULL DEFAULT 0,
    PRIMARY KEY (school_id, coach_id),
    FOREIGN KEY (school_id, coach_id) REFERENCES coach (school_id, id) ON DELETE CASCADE DEFERRABLE
);
CREATE INDEX credential_name ON credential (sign_in_name);

CREATE TABLE web_session (
    school_id    uuid NOT NULL,
    id           uuid NOT NULL,
    coach_id     uuid NOT NULL,
    token_sha256 bytea NOT NULL,
    opened_at    timestamptz NOT NULL DEFAULT now(),
    used_at      timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, coach_id) REFERENCES coach (school_id, id) ON DELETE CASCADE
);
CREATE INDEX web_session_token ON web_session (token_sha256);
CREATE INDEX web_session_coach ON web_session (school_id, coach_id);

-- Wrong tries come before it is known whose school they are meant for.
CREATE TABLE wrong_try (
    id           uuid PRIMARY KEY,
    sign_in_name text NOT NULL,
    from_address text NOT NULL,
    tried_at     timestamptz NOT NULL DEFAULT clock_timestamp()
);
CREATE INDEX wrong_try_name ON wrong_try (sign_in_name, tried_at);
CREATE INDEX wrong_try_address ON wrong_try (from_address, tried_at);

-- Whose player it is, and who else sees them.
ALTER TABLE player
    ADD coach_id uuid,
    ADD FOREIGN KEY (school_id, coach_id) REFERENCES coach (school_id, id);
UPDATE player SET coach_id = (
    SELECT id FROM coach WHERE coach.school_id = player.school_id ORDER BY id LIMIT 1);
CREATE TABLE player_share (
    school_id uuid NOT NULL,
    player_id uuid NOT NULL,
    coach_id  uuid NOT NULL,
    shared_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (school_id, player_id, coach_id),
    FOREIGN KEY (school_id, player_id) REFERENCES player (school_id, id) ON DELETE CASCADE,
    FOREIGN KEY (school_id, coach_id) REFERENCES coach (school_id, id) ON DELETE CASCADE
);

-- Secrets are known by their digests; that no two are alike is left to their length.
DROP INDEX device_token;
CREATE INDEX device_token ON device (token_sha256);

-- Rows of other schools are not there for the application's role, whatever a query
-- asks; within the school, players of other coaches are not there either.
CREATE FUNCTION tally_school() RETURNS uuid LANGUAGE sql STABLE
    AS $$ SELECT nullif(current_setting('tally.school', true), '')::uuid $$;
CREATE FUNCTION tally_coach() RETURNS uuid LANGUAGE sql STABLE
    AS $$ SELECT nullif(current_setting('tally.coach', true), '')::uuid $$;
DO $$
DECLARE name text;
BEGIN
    FOR name IN
        SELECT table_name FROM information_schema.columns
        WHERE table_schema = current_schema() AND column_name = 'school_id'
    LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
        EXECUTE format('CREATE POLICY own_school ON %I USING (school_id = (SELECT tally_school()))', name);
    END LOOP;
    FOREACH name IN ARRAY ARRAY['session', 'bag_club', 'target_window', 'decision', 'import']
    LOOP
        EXECUTE format(
            'CREATE POLICY seen_player ON %I AS RESTRICTIVE
                 USING ((SELECT tally_coach()) IS NULL OR player_id IN (SELECT id FROM player))', name);
    END LOOP;
END $$;
CREATE POLICY own_or_shared ON player AS RESTRICTIVE USING (
    (SELECT tally_coach()) IS NULL
    OR coach_id = (SELECT tally_coach())
    OR id IN (SELECT player_id FROM player_share WHERE coach_id = (SELECT tally_coach()))
);
