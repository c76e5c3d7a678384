-- Who is due is asked every morning: the few who checked in last, not all who ever did.
CREATE INDEX player_standing_due ON player_standing (school_id, last_check_in)
    WHERE check_ins >= 2;
