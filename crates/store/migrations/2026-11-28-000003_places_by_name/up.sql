-- A school's places are found by a look into the index for each, however many sessions it has.
CREATE INDEX session_place ON session (school_id, place, started_at);
