-- Where a row names a player, or a session, and something that belongs to one, both are
-- the same one's: the database holds it, so that nobody's records hang on another's.

UPDATE session SET bag_club_id = NULL
WHERE bag_club_id IS NOT NULL AND NOT EXISTS (
    SELECT FROM bag_club b WHERE (b.school_id, b.id, b.player_id)
        = (session.school_id, session.bag_club_id, session.player_id));
ALTER TABLE bag_club ADD UNIQUE (school_id, player_id, id);
ALTER TABLE session
    DROP CONSTRAINT session_school_id_bag_club_id_fkey,
    ADD FOREIGN KEY (school_id, player_id, bag_club_id)
        REFERENCES bag_club (school_id, player_id, id);

-- A session that was given to another player is no longer one of the file's.
UPDATE session SET import_id = NULL
WHERE import_id IS NOT NULL AND NOT EXISTS (
    SELECT FROM import i WHERE (i.school_id, i.id, i.player_id)
        = (session.school_id, session.import_id, session.player_id));
ALTER TABLE import ADD UNIQUE (school_id, player_id, id);
ALTER TABLE session
    DROP CONSTRAINT session_school_id_import_id_fkey,
    ADD FOREIGN KEY (school_id, player_id, import_id)
        REFERENCES import (school_id, player_id, id);

-- What was decided in a session goes with it to another player.
UPDATE decision SET session_id = NULL
WHERE session_id IS NOT NULL AND NOT EXISTS (
    SELECT FROM session s WHERE (s.school_id, s.id, s.player_id)
        = (decision.school_id, decision.session_id, decision.player_id));
ALTER TABLE session ADD UNIQUE (school_id, player_id, id);
ALTER TABLE decision
    DROP CONSTRAINT decision_school_id_session_id_fkey,
    ADD FOREIGN KEY (school_id, player_id, session_id)
        REFERENCES session (school_id, player_id, id)
        ON UPDATE CASCADE ON DELETE SET NULL (session_id);

ALTER TABLE block ADD UNIQUE (school_id, session_id, id);
ALTER TABLE shot
    DROP CONSTRAINT shot_school_id_block_id_fkey,
    ADD FOREIGN KEY (school_id, session_id, block_id)
        REFERENCES block (school_id, session_id, id);

-- A link to a player's page ended with its maker's seeing the player: it does from now on.
UPDATE player_link l SET revoked_at = now()
WHERE l.revoked_at IS NULL AND NOT EXISTS (
    SELECT FROM coach c JOIN player p ON (p.school_id, p.id) = (l.school_id, l.player_id)
    WHERE (c.school_id, c.id) = (l.school_id, l.coach_id) AND c.left_at IS NULL
      AND (c.role = 'owner' OR p.coach_id = c.id OR EXISTS (
          SELECT FROM player_share s
          WHERE (s.school_id, s.player_id, s.coach_id) = (p.school_id, p.id, c.id))));
