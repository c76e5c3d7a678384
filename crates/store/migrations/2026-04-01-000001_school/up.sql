-- Every key and foreign key begins with school_id, so that a school's data can be
-- kept together and apart from any other's.

CREATE TABLE school (
    school_id  uuid PRIMARY KEY,
    name       text NOT NULL CHECK (char_length(name) BETWEEN 1 AND 200),
    created_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE coach (
    school_id uuid NOT NULL REFERENCES school,
    id        uuid NOT NULL,
    name      text NOT NULL CHECK (char_length(name) BETWEEN 1 AND 200),
    PRIMARY KEY (school_id, id)
);

CREATE TABLE player (
    school_id   uuid NOT NULL REFERENCES school,
    id          uuid NOT NULL,
    name        text NOT NULL CHECK (char_length(name) BETWEEN 1 AND 200),
    born        integer,
    left_handed boolean NOT NULL DEFAULT false,
    aim         text NOT NULL DEFAULT '' CHECK (char_length(aim) <= 500),
    created_at  timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (school_id, id)
);

CREATE TABLE session (
    school_id     uuid NOT NULL,
    id            uuid NOT NULL,
    player_id     uuid NOT NULL,
    purpose       text NOT NULL,
    club          text NOT NULL,
    place         text NOT NULL CHECK (char_length(place) <= 200),
    altitude_m    double precision NOT NULL,
    temperature_c double precision NOT NULL,
    humidity_pct  double precision NOT NULL,
    pressure_hpa  double precision,
    started_at    timestamptz NOT NULL,
    zone          text NOT NULL,
    ended_at      timestamptz,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, player_id) REFERENCES player (school_id, id)
);
CREATE INDEX session_player ON session (school_id, player_id, started_at);
CREATE INDEX session_in_progress ON session (school_id) WHERE ended_at IS NULL;

-- The last block of a session is the one that new shots go to.
CREATE TABLE block (
    school_id  uuid NOT NULL,
    id         uuid NOT NULL,
    session_id uuid NOT NULL,
    position   integer NOT NULL,
    label      text NOT NULL CHECK (char_length(label) BETWEEN 1 AND 100),
    PRIMARY KEY (school_id, id),
    UNIQUE (school_id, session_id, position),
    FOREIGN KEY (school_id, session_id) REFERENCES session (school_id, id)
);

CREATE TABLE device (
    school_id uuid NOT NULL REFERENCES school,
    id        uuid NOT NULL,
    name      text NOT NULL,
    kind      text NOT NULL,
    seen_at   timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (school_id, id),
    UNIQUE (school_id, name)
);

CREATE TABLE shot (
    school_id  uuid NOT NULL,
    id         uuid NOT NULL,
    session_id uuid NOT NULL,
    block_id   uuid NOT NULL,
    hit_at     timestamptz NOT NULL,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, session_id) REFERENCES session (school_id, id),
    FOREIGN KEY (school_id, block_id) REFERENCES block (school_id, id)
);
CREATE INDEX shot_session ON shot (school_id, session_id, hit_at, id);

-- What one device reported for one shot. A device numbers its shots within a run;
-- the unique key makes a resent line harmless.
CREATE TABLE reading (
    school_id   uuid NOT NULL,
    id          uuid NOT NULL,
    shot_id     uuid NOT NULL,
    device_id   uuid NOT NULL,
    run         text NOT NULL,
    sequence    bigint NOT NULL CHECK (sequence > 0),
    received_at timestamptz NOT NULL DEFAULT now(),
    -- Quantity name to value in internal units and provenance.
    values      jsonb NOT NULL,
    PRIMARY KEY (school_id, id),
    UNIQUE (school_id, device_id, run, sequence),
    FOREIGN KEY (school_id, shot_id) REFERENCES shot (school_id, id),
    FOREIGN KEY (school_id, device_id) REFERENCES device (school_id, id)
);
CREATE INDEX reading_shot ON reading (school_id, shot_id);

-- What the coach did with a shot, never overwritten: the latest decision counts.
CREATE TABLE shot_mark (
    school_id uuid NOT NULL,
    id        uuid NOT NULL,
    shot_id   uuid NOT NULL,
    coach_id  uuid NOT NULL,
    made_at   timestamptz NOT NULL DEFAULT clock_timestamp(),
    kind      text NOT NULL CHECK (kind IN ('set_aside', 'keep', 'withdraw', 'strike')),
    reason    text CHECK (reason IN ('mishit', 'interrupted', 'device', 'trial', 'other')),
    note      text NOT NULL DEFAULT '' CHECK (char_length(note) <= 500),
    -- Face cell as on a number pad: 7 8 9 high, 1 2 3 low.
    strike    smallint CHECK (strike BETWEEN 1 AND 9),
    CHECK ((kind = 'set_aside') = (reason IS NOT NULL)),
    CHECK ((kind = 'strike') = (strike IS NOT NULL)),
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, shot_id) REFERENCES shot (school_id, id),
    FOREIGN KEY (school_id, coach_id) REFERENCES coach (school_id, id)
);
CREATE INDEX shot_mark_shot ON shot_mark (school_id, shot_id, made_at);
