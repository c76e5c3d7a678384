-- When each player's last session began, kept with what changes it: who was there last is told
-- without a look at anybody's sessions.
ALTER TABLE player ADD last_session_at timestamptz;
UPDATE player SET last_session_at = held.at
FROM (SELECT school_id, player_id, max(started_at) AS at FROM session GROUP BY 1, 2) AS held
WHERE (player.school_id, player.id) = (held.school_id, held.player_id);

CREATE FUNCTION last_session(school uuid, player uuid) RETURNS timestamptz LANGUAGE sql STABLE AS $$
    SELECT started_at FROM session WHERE session.school_id = school AND session.player_id = player
    ORDER BY session.player_id DESC, started_at DESC LIMIT 1
$$;
CREATE FUNCTION sessions_came() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    UPDATE player SET last_session_at = came.at
    FROM (SELECT school_id, player_id, max(started_at) AS at FROM those GROUP BY 1, 2) AS came
    WHERE player.school_id = came.school_id AND player.id = came.player_id
        AND (last_session_at IS NULL OR last_session_at < came.at);
    RETURN NULL;
END $$;
CREATE FUNCTION sessions_went() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    UPDATE player SET last_session_at = last_session(player.school_id, player.id)
    FROM (SELECT DISTINCT school_id, player_id FROM those) AS went
    WHERE player.school_id = went.school_id AND player.id = went.player_id;
    RETURN NULL;
END $$;
CREATE FUNCTION session_moved() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    UPDATE player SET last_session_at = last_session(player.school_id, player.id)
    WHERE (player.school_id, player.id) IN
        ((NEW.school_id, NEW.player_id), (OLD.school_id, OLD.player_id));
    RETURN NULL;
END $$;
CREATE TRIGGER sessions_came AFTER INSERT ON session REFERENCING NEW TABLE AS those
    FOR EACH STATEMENT EXECUTE FUNCTION sessions_came();
CREATE TRIGGER sessions_went AFTER DELETE ON session REFERENCING OLD TABLE AS those
    FOR EACH STATEMENT EXECUTE FUNCTION sessions_went();
CREATE TRIGGER session_moved AFTER UPDATE OF player_id, started_at ON session
    FOR EACH ROW WHEN ((OLD.player_id, OLD.started_at) IS DISTINCT FROM (NEW.player_id, NEW.started_at))
    EXECUTE FUNCTION session_moved();
