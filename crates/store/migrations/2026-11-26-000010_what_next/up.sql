-- Whether a comparison was left open, and what a coach did with what was proposed next.
ALTER TABLE comparison ADD COLUMN undecided boolean NOT NULL DEFAULT false;
CREATE TABLE next_choice (
    school_id uuid NOT NULL,
    player_id uuid NOT NULL,
    -- Which proposal: its kind, its club, its part.
    item      text NOT NULL CHECK (char_length(item) BETWEEN 1 AND 300),
    coach_id  uuid NOT NULL,
    pinned    boolean NOT NULL,
    -- Why it was dismissed; empty while it is pinned.
    reason    text NOT NULL DEFAULT '' CHECK (char_length(reason) <= 300),
    chosen_at timestamptz NOT NULL DEFAULT clock_timestamp(),
    PRIMARY KEY (school_id, player_id, item),
    CHECK (pinned = (reason = '')),
    FOREIGN KEY (school_id, player_id) REFERENCES player (school_id, id),
    FOREIGN KEY (school_id, coach_id) REFERENCES coach (school_id, id)
);
ALTER TABLE next_choice ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON next_choice USING (school_id = (SELECT tally_school()));
CREATE POLICY seen_player ON next_choice AS RESTRICTIVE
    USING ((SELECT tally_coach()) IS NULL OR player_id IN (SELECT id FROM player));
