-- Players who are looked at together.
CREATE TABLE player_group (
    school_id uuid NOT NULL REFERENCES school (school_id),
    id        uuid NOT NULL,
    name      text NOT NULL,
    made_at   timestamptz NOT NULL DEFAULT clock_timestamp(),
    PRIMARY KEY (school_id, id)
);
ALTER TABLE player_group ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON player_group USING (school_id = (SELECT tally_school()));

-- A coach sees of a group the players whom they see.
CREATE TABLE player_group_member (
    school_id uuid NOT NULL,
    group_id  uuid NOT NULL,
    player_id uuid NOT NULL,
    PRIMARY KEY (school_id, group_id, player_id),
    -- No cascade: a group stays as long as somebody is in it whom whoever drops it does not see.
    FOREIGN KEY (school_id, group_id) REFERENCES player_group (school_id, id),
    FOREIGN KEY (school_id, player_id) REFERENCES player (school_id, id)
);
CREATE INDEX player_group_member_of ON player_group_member (school_id, player_id);
ALTER TABLE player_group_member ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON player_group_member USING (school_id = (SELECT tally_school()));
CREATE POLICY seen_player ON player_group_member AS RESTRICTIVE
    USING ((SELECT tally_coach()) IS NULL OR player_id IN (SELECT id FROM player));

-- Children grow: a height is that of a day.
ALTER TABLE player ADD COLUMN height_on date;
CREATE FUNCTION date_height() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF NEW.height_m IS NULL THEN
        NEW.height_on := NULL;
    ELSIF TG_OP = 'UPDATE' AND NEW.height_m IS DISTINCT FROM OLD.height_m THEN
        NEW.height_on := current_date;
    ELSIF NEW.height_on IS NULL AND TG_OP = 'INSERT' THEN
        NEW.height_on := current_date;
    END IF;
    RETURN NEW;
END $$;
CREATE TRIGGER height_is_dated BEFORE INSERT OR UPDATE ON player
    FOR EACH ROW EXECUTE FUNCTION date_height();
