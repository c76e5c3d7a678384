ALTER TABLE session DROP import_id;
DROP TABLE import_bad_row, import;
DROP INDEX session_started;
DROP TABLE house_rule, shot_entry, session_act, plan_template;
ALTER TABLE device
    DROP token_sha256, DROP offsets, DROP measures, DROP calculates, DROP session_id,
    DROP connected_at, DROP heard_at, DROP clock_ahead_s, DROP practice;
DELETE FROM shot_mark WHERE coach_id IS NULL;
ALTER TABLE shot_mark
    ALTER coach_id SET NOT NULL,
    DROP CONSTRAINT shot_mark_reason_check;
UPDATE shot_mark SET reason = 'trial' WHERE reason IN ('missed_feel', 'paused');
ALTER TABLE shot_mark ADD CONSTRAINT shot_mark_reason_check
    CHECK (reason IN ('mishit', 'interrupted', 'device', 'trial', 'other'));
DELETE FROM block WHERE begun_at IS NULL;
ALTER TABLE block
    DROP plan,
    DROP begun_at,
    DROP CONSTRAINT block_position,
    ADD CONSTRAINT block_school_id_session_id_position_key UNIQUE (school_id, session_id, position);
ALTER TABLE session
    DROP wind_mps, DROP wind_from_deg, DROP surface, DROP firmness, DROP ball, DROP bag_club_id;
DROP TABLE bag_club;
