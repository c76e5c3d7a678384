-- What Prepare asks for.
ALTER TABLE session
    ADD wind_mps double precision,
    ADD wind_from_deg double precision,
    ADD surface text,
    ADD firmness double precision,
    ADD ball text NOT NULL DEFAULT 'premium' CHECK (ball IN ('premium', 'competition', 'range')),
    ADD bag_club_id uuid,
    ADD CHECK ((wind_mps IS NULL) = (wind_from_deg IS NULL)),
    ADD CHECK ((surface IS NULL) = (firmness IS NULL));

CREATE INDEX session_started ON session (school_id, started_at);

-- A block is planned before it is begun; the latest begun takes the shots.
ALTER TABLE block
    ADD plan jsonb,
    ADD begun_at timestamptz;
-- Positions move when a block is put between others.
ALTER TABLE block
    DROP CONSTRAINT block_school_id_session_id_position_key,
    ADD CONSTRAINT block_position UNIQUE (school_id, session_id, position) DEFERRABLE INITIALLY DEFERRED;
UPDATE block
SET begun_at = session.started_at + block.position * interval '1 second'
FROM session
WHERE session.school_id = block.school_id AND session.id = block.session_id;

-- A coach's own plan for a purpose.
CREATE TABLE plan_template (
    school_id uuid NOT NULL REFERENCES school,
    id        uuid NOT NULL,
    name      text NOT NULL CHECK (char_length(name) BETWEEN 1 AND 100),
    purpose   text NOT NULL,
    blocks    jsonb NOT NULL,
    saved_at  timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (school_id, id),
    UNIQUE (school_id, purpose, name)
);

CREATE TABLE bag_club (
    school_id uuid NOT NULL,
    id        uuid NOT NULL,
    player_id uuid NOT NULL,
    club      text NOT NULL,
    head      text NOT NULL DEFAULT '' CHECK (char_length(head) <= 100),
    loft_deg  double precision,
    length_m  double precision,
    mass_kg   double precision,
    flex      text NOT NULL DEFAULT '' CHECK (char_length(flex) <= 50),
    added_at  timestamptz NOT NULL DEFAULT now(),
    left_at   timestamptz,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, player_id) REFERENCES player (school_id, id)
);
CREATE INDEX bag_club_player ON bag_club (school_id, player_id);
ALTER TABLE session
    ADD FOREIGN KEY (school_id, bag_club_id) REFERENCES bag_club (school_id, id);

-- What is done in a session beside hitting: answers, ticks, holds. Never overwritten.
CREATE TABLE session_act (
    school_id  uuid NOT NULL,
    id         uuid NOT NULL,
    session_id uuid NOT NULL,
    coach_id   uuid NOT NULL,
    made_at    timestamptz NOT NULL DEFAULT clock_timestamp(),
    act        jsonb NOT NULL,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, session_id) REFERENCES session (school_id, id),
    FOREIGN KEY (school_id, coach_id) REFERENCES coach (school_id, id)
);
CREATE INDEX session_act_session ON session_act (school_id, session_id, made_at);

-- What a person typed for a shot; the latest of a quantity counts, none takes it back.
CREATE TABLE shot_entry (
    school_id  uuid NOT NULL,
    id         uuid NOT NULL,
    shot_id    uuid NOT NULL,
    coach_id   uuid NOT NULL,
    entered_at timestamptz NOT NULL DEFAULT clock_timestamp(),
    quantity   text NOT NULL,
    si         double precision,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, shot_id) REFERENCES shot (school_id, id) ON DELETE CASCADE,
    FOREIGN KEY (school_id, coach_id) REFERENCES coach (school_id, id)
);
CREATE INDEX shot_entry_shot ON shot_entry (school_id, shot_id, entered_at);

-- A mark without a coach was made by the program: a shot hit during a pause.
ALTER TABLE shot_mark
    ALTER coach_id DROP NOT NULL,
    DROP CONSTRAINT shot_mark_reason_check,
    ADD CONSTRAINT shot_mark_reason_check CHECK (reason IN
        ('mishit', 'missed_feel', 'interrupted', 'paused', 'device', 'trial', 'other'));

-- Devices have a secret of their own; only its digest is kept.
ALTER TABLE device
    ADD token_sha256 bytea,
    ADD offsets jsonb NOT NULL DEFAULT '{}',
    ADD measures jsonb NOT NULL DEFAULT '[]',
    ADD calculates jsonb NOT NULL DEFAULT '[]',
    ADD session_id uuid,
    ADD connected_at timestamptz,
    ADD heard_at timestamptz,
    ADD clock_ahead_s double precision,
    ADD practice boolean NOT NULL DEFAULT false,
    ADD FOREIGN KEY (school_id, session_id) REFERENCES session (school_id, id);
CREATE UNIQUE INDEX device_token ON device (token_sha256);

-- The coach's own rules, never overwritten: the latest of a key counts, none is ours.
CREATE TABLE house_rule (
    school_id  uuid NOT NULL,
    id         uuid NOT NULL,
    coach_id   uuid NOT NULL,
    key        text NOT NULL,
    value      jsonb,
    changed_at timestamptz NOT NULL DEFAULT clock_timestamp(),
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, coach_id) REFERENCES coach (school_id, id)
);
CREATE INDEX house_rule_key ON house_rule (school_id, key, changed_at);

-- A file of shots that was brought in. Its sessions can be taken out again as a whole.
CREATE TABLE import (
    school_id   uuid NOT NULL,
    id          uuid NOT NULL,
    player_id   uuid NOT NULL,
    coach_id    uuid NOT NULL,
    file_name   text NOT NULL CHECK (char_length(file_name) BETWEEN 1 AND 300),
    bytes       bigint,
    bytes_done  bigint NOT NULL DEFAULT 0,
    rows_good   bigint NOT NULL DEFAULT 0,
    rows_bad    bigint NOT NULL DEFAULT 0,
    state       text NOT NULL DEFAULT 'running' CHECK (state IN
        ('running', 'cancelling', 'done', 'cancelled', 'refused', 'known', 'failed', 'undone')),
    message     text NOT NULL DEFAULT '',
    sha256      bytea,
    header      jsonb NOT NULL DEFAULT '[]',
    started_at  timestamptz NOT NULL DEFAULT now(),
    touched_at  timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, player_id) REFERENCES player (school_id, id),
    FOREIGN KEY (school_id, coach_id) REFERENCES coach (school_id, id)
);
-- The same file makes no doubles: once for a player, until it is undone.
CREATE UNIQUE INDEX import_once ON import (school_id, player_id, sha256) WHERE state = 'done';
CREATE TABLE import_bad_row (
    school_id uuid NOT NULL,
    import_id uuid NOT NULL,
    row       bigint NOT NULL,
    cells     jsonb NOT NULL,
    troubles  jsonb NOT NULL,
    PRIMARY KEY (school_id, import_id, row),
    FOREIGN KEY (school_id, import_id) REFERENCES import (school_id, id)
);
ALTER TABLE session
    ADD import_id uuid,
    ADD FOREIGN KEY (school_id, import_id) REFERENCES import (school_id, id);
CREATE INDEX session_import ON session (school_id, import_id) WHERE import_id IS NOT NULL;
