-- What a coach decided for a player, with the verdict it rests on and when to look again.
CREATE TABLE decision (
    school_id  uuid NOT NULL,
    id         uuid NOT NULL,
    player_id  uuid NOT NULL,
    session_id uuid,
    coach_id   uuid NOT NULL,
    words      text NOT NULL CHECK (char_length(words) BETWEEN 1 AND 1000),
    verdict    text NOT NULL DEFAULT '' CHECK (char_length(verdict) <= 1000),
    address    text NOT NULL DEFAULT '' CHECK (char_length(address) <= 4000),
    recheck_on date,
    decided_at timestamptz NOT NULL DEFAULT clock_timestamp(),
    done_at    timestamptz,
    PRIMARY KEY (school_id, id),
    FOREIGN KEY (school_id, player_id) REFERENCES player (school_id, id),
    FOREIGN KEY (school_id, session_id) REFERENCES session (school_id, id) ON DELETE SET NULL (session_id),
    FOREIGN KEY (school_id, coach_id) REFERENCES coach (school_id, id)
);
CREATE INDEX decision_player ON decision (school_id, player_id, decided_at);
CREATE INDEX decision_recheck ON decision (school_id, recheck_on) WHERE done_at IS NULL;
