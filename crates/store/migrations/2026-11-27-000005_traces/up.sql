-- What a force plate told of a swing, sample by sample.
CREATE TABLE trace (
    school_id uuid NOT NULL,
    shot_id   uuid NOT NULL,
    packed    bytea NOT NULL,
    PRIMARY KEY (school_id, shot_id),
    FOREIGN KEY (school_id, shot_id) REFERENCES shot (school_id, id) ON DELETE CASCADE
);
ALTER TABLE trace ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON trace USING (school_id = (SELECT tally_school()));
