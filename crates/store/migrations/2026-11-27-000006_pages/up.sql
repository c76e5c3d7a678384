-- What a player takes home of a session or a period, as the coach wrote it.
CREATE TABLE page (
    school_id  uuid NOT NULL,
    id         uuid NOT NULL,
    player_id  uuid NOT NULL,
    session_id uuid,
    coach_id   uuid NOT NULL,
    written_at timestamptz NOT NULL DEFAULT clock_timestamp(),
    body       jsonb NOT NULL,
    PRIMARY KEY (school_id, id),
    UNIQUE (school_id, player_id, id),
    FOREIGN KEY (school_id, player_id) REFERENCES player (school_id, id),
    FOREIGN KEY (school_id, coach_id) REFERENCES coach (school_id, id),
    FOREIGN KEY (school_id, player_id, session_id)
        REFERENCES session (school_id, player_id, id)
        ON UPDATE CASCADE ON DELETE SET NULL (session_id)
);
CREATE INDEX page_of_player ON page (school_id, player_id, written_at);
CREATE INDEX page_of_session ON page (school_id, session_id);
ALTER TABLE page ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON page USING (school_id = (SELECT tally_school()));
CREATE POLICY seen_player ON page AS RESTRICTIVE
    USING ((SELECT tally_coach()) IS NULL OR player_id IN (SELECT id FROM player));

-- A link may open one page.
ALTER TABLE player_link ADD COLUMN page_id uuid;
ALTER TABLE player_link ADD FOREIGN KEY (school_id, player_id, page_id)
    REFERENCES page (school_id, player_id, id) ON UPDATE CASCADE ON DELETE CASCADE;
CREATE INDEX player_link_page ON player_link (school_id, page_id);
