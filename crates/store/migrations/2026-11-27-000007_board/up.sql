-- A second screen at the mat: who knows the code reads the numbers of one session.
CREATE TABLE board (
    school_id  uuid NOT NULL,
    session_id uuid NOT NULL,
    player_id  uuid NOT NULL,
    coach_id   uuid NOT NULL,
    -- What opens it once the code was given: as good as a secret.
    id         uuid NOT NULL,
    code       text NOT NULL,
    units      text NOT NULL,
    until      timestamptz NOT NULL,
    PRIMARY KEY (school_id, session_id),
    FOREIGN KEY (school_id, coach_id) REFERENCES coach (school_id, id),
    FOREIGN KEY (school_id, player_id, session_id)
        REFERENCES session (school_id, player_id, id)
        ON UPDATE CASCADE ON DELETE CASCADE
);
CREATE INDEX board_by_id ON board (id);
CREATE INDEX board_by_code ON board (code);
CREATE INDEX board_of_session ON board (school_id, player_id, session_id);
ALTER TABLE board ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON board USING (school_id = (SELECT tally_school()));
CREATE POLICY seen_player ON board AS RESTRICTIVE
    USING ((SELECT tally_coach()) IS NULL OR player_id IN (SELECT id FROM player));
