-- How many shots a session has, kept with what changes them: lists of players and sessions
-- count none. Whatever puts shots in or takes them out does it by these triggers, in its own
-- transaction.
ALTER TABLE session ADD shots integer NOT NULL DEFAULT 0;
UPDATE session SET shots = held.n
FROM (SELECT school_id, session_id, count(*) AS n FROM shot GROUP BY 1, 2) AS held
WHERE (session.school_id, session.id) = (held.school_id, held.session_id);

CREATE FUNCTION shots_came() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    UPDATE session SET shots = session.shots + came.n
    FROM (SELECT school_id, session_id, count(*) AS n FROM those GROUP BY 1, 2) AS came
    WHERE session.school_id = came.school_id AND session.id = came.session_id;
    RETURN NULL;
END $$;
CREATE FUNCTION shots_went() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    UPDATE session SET shots = session.shots - went.n
    FROM (SELECT school_id, session_id, count(*) AS n FROM those GROUP BY 1, 2) AS went
    WHERE session.school_id = went.school_id AND session.id = went.session_id;
    RETURN NULL;
END $$;
CREATE FUNCTION shots_moved() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    UPDATE session SET shots = session.shots + moved.n
    FROM (
        SELECT school_id, session_id, sum(n) AS n FROM (
            SELECT school_id, session_id, 1 AS n FROM those
            UNION ALL SELECT school_id, session_id, -1 FROM were
        ) AS each GROUP BY 1, 2 HAVING sum(n) <> 0
    ) AS moved
    WHERE session.school_id = moved.school_id AND session.id = moved.session_id;
    RETURN NULL;
END $$;
CREATE TRIGGER shots_came AFTER INSERT ON shot REFERENCING NEW TABLE AS those
    FOR EACH STATEMENT EXECUTE FUNCTION shots_came();
CREATE TRIGGER shots_went AFTER DELETE ON shot REFERENCING OLD TABLE AS those
    FOR EACH STATEMENT EXECUTE FUNCTION shots_went();
CREATE TRIGGER shots_moved AFTER UPDATE ON shot REFERENCING NEW TABLE AS those OLD TABLE AS were
    FOR EACH STATEMENT EXECUTE FUNCTION shots_moved();
