ALTER TABLE shot
    DROP CONSTRAINT shot_school_id_session_id_block_id_fkey,
    ADD FOREIGN KEY (school_id, block_id) REFERENCES block (school_id, id);
ALTER TABLE block DROP CONSTRAINT block_school_id_session_id_id_key;
ALTER TABLE decision
    DROP CONSTRAINT decision_school_id_player_id_session_id_fkey,
    ADD FOREIGN KEY (school_id, session_id) REFERENCES session (school_id, id)
        ON DELETE SET NULL (session_id);
ALTER TABLE session
    DROP CONSTRAINT session_school_id_player_id_bag_club_id_fkey,
    DROP CONSTRAINT session_school_id_player_id_import_id_fkey,
    DROP CONSTRAINT session_school_id_player_id_id_key,
    ADD FOREIGN KEY (school_id, bag_club_id) REFERENCES bag_club (school_id, id),
    ADD FOREIGN KEY (school_id, import_id) REFERENCES import (school_id, id);
ALTER TABLE import DROP CONSTRAINT import_school_id_player_id_id_key;
ALTER TABLE bag_club DROP CONSTRAINT bag_club_school_id_player_id_id_key;
