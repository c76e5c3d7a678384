-- What each session gives, counted once. Nothing here is anyone's only copy: every row may
-- be dropped at any time and is counted again from the shots.
CREATE TABLE session_figures (
    school_id  uuid NOT NULL,
    session_id uuid NOT NULL,
    -- How often the session changed; what was counted before its last change is not taken in.
    changes    bigint NOT NULL DEFAULT 0,
    -- By which rules and device offsets it was counted.
    mark       bigint,
    figures    bytea,
    PRIMARY KEY (school_id, session_id),
    FOREIGN KEY (school_id, session_id) REFERENCES session (school_id, id) ON DELETE CASCADE
);
-- They are read whole and hold numbers, which hardly pack.
ALTER TABLE session_figures ALTER COLUMN figures SET STORAGE EXTERNAL;
ALTER TABLE session_figures ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON session_figures USING (school_id = (SELECT tally_school()));

-- How each player stands by their sessions: what Today lists without reading a shot. It too
-- may be dropped at any time.
CREATE TABLE player_standing (
    school_id uuid NOT NULL,
    player_id uuid NOT NULL,
    changes   bigint NOT NULL DEFAULT 0,
    mark      bigint,
    -- Whether there is anything to look at.
    flagged   boolean NOT NULL DEFAULT false,
    told      jsonb,
    -- Check-ins and the last of them, as they were when it was told last.
    check_ins     integer NOT NULL DEFAULT 0,
    last_check_in timestamptz,
    PRIMARY KEY (school_id, player_id),
    FOREIGN KEY (school_id, player_id) REFERENCES player (school_id, id) ON DELETE CASCADE
);
ALTER TABLE player_standing ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON player_standing USING (school_id = (SELECT tally_school()));
CREATE POLICY seen_player ON player_standing AS RESTRICTIVE
    USING ((SELECT tally_coach()) IS NULL OR player_id IN (SELECT id FROM player));

-- Lets nothing be kept of a player that was read before one of their sessions or clubs came,
-- went or was given to another.
CREATE FUNCTION player_changed() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    INSERT INTO player_standing AS kept (school_id, player_id, changes)
    SELECT player.school_id, player.id, 1 FROM player
    WHERE (player.school_id, player.id) IN
        ((NEW.school_id, NEW.player_id), (OLD.school_id, OLD.player_id))
    ORDER BY player.id
    ON CONFLICT (school_id, player_id) DO UPDATE
    SET changes = kept.changes + 1, mark = NULL, flagged = false, told = NULL;
    RETURN NULL;
END $$;
CREATE TRIGGER player_changed AFTER INSERT OR DELETE OR UPDATE OF player_id ON session
    FOR EACH ROW EXECUTE FUNCTION player_changed();
CREATE TRIGGER player_changed AFTER INSERT OR DELETE OR UPDATE ON bag_club
    FOR EACH ROW EXECUTE FUNCTION player_changed();
