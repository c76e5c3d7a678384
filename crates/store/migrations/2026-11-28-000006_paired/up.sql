-- Whether two devices told of any of a session's shots, kept with what changes it: pairs of devices
-- are looked for where there are any. It stays where such a reading is taken out again, which costs
-- a look in vain.
ALTER TABLE session ADD paired boolean NOT NULL DEFAULT false;
UPDATE session SET paired = true
FROM (
    SELECT DISTINCT shot.school_id, shot.session_id
    FROM (
        SELECT school_id, shot_id FROM reading
        GROUP BY 1, 2 HAVING min(device_id::text) <> max(device_id::text)
    ) AS told
    JOIN shot ON (shot.school_id, shot.id) = (told.school_id, told.shot_id)
) AS held
WHERE (session.school_id, session.id) = (held.school_id, held.session_id);
CREATE INDEX session_paired ON session (school_id, started_at DESC) WHERE paired;

-- A look into the index for each reading, however much the planner knows of a table that grows.
CREATE FUNCTION readings_came() RETURNS trigger LANGUAGE plpgsql SET enable_seqscan = off AS $$
BEGIN
    UPDATE session SET paired = true
    FROM (
        SELECT DISTINCT two.school_id, two.session_id
        FROM those, LATERAL (
            SELECT shot.school_id, shot.session_id
            FROM reading AS other
            JOIN shot ON (shot.school_id, shot.id) = (other.school_id, other.shot_id)
            WHERE (other.school_id, other.shot_id) = (those.school_id, those.shot_id)
                AND other.device_id <> those.device_id
            LIMIT 1
        ) AS two
    ) AS held
    WHERE (session.school_id, session.id) = (held.school_id, held.session_id)
        AND NOT session.paired;
    RETURN NULL;
END $$;
CREATE FUNCTION reading_moved() RETURNS trigger LANGUAGE plpgsql SET enable_seqscan = off AS $$
BEGIN
    UPDATE session SET paired = true
    FROM shot
    WHERE (shot.school_id, shot.id) = (NEW.school_id, NEW.shot_id)
        AND (session.school_id, session.id) = (shot.school_id, shot.session_id)
        AND NOT session.paired
        AND EXISTS (
            SELECT FROM reading AS other
            WHERE (other.school_id, other.shot_id) = (NEW.school_id, NEW.shot_id)
                AND other.device_id <> NEW.device_id
        );
    RETURN NULL;
END $$;
CREATE TRIGGER readings_came AFTER INSERT ON reading REFERENCING NEW TABLE AS those
    FOR EACH STATEMENT EXECUTE FUNCTION readings_came();
CREATE TRIGGER reading_moved AFTER UPDATE OF shot_id, device_id ON reading
    FOR EACH ROW EXECUTE FUNCTION reading_moved();
-- A shot goes to another session with its readings.
CREATE FUNCTION shot_moved() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    UPDATE session SET paired = true
    WHERE (school_id, id) = (NEW.school_id, NEW.session_id) AND NOT paired
        AND (SELECT paired FROM session WHERE (school_id, id) = (OLD.school_id, OLD.session_id));
    RETURN NULL;
END $$;
CREATE TRIGGER shot_moved AFTER UPDATE OF session_id ON shot
    FOR EACH ROW WHEN (OLD.session_id <> NEW.session_id) EXECUTE FUNCTION shot_moved();

-- What there is to look at of a player, without its words and all else that is told: lists are put
-- in order by it.
CREATE FUNCTION flag_heads(told jsonb) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
    SELECT jsonb_agg(flag - 'said' - 'since' ORDER BY at)
    FROM jsonb_array_elements(
        CASE WHEN jsonb_typeof(told -> 'flags') = 'array' THEN told -> 'flags' END
    ) WITH ORDINALITY AS each (flag, at)
$$;
ALTER TABLE player_standing ADD heads jsonb GENERATED ALWAYS AS (flag_heads(told)) STORED;
