ALTER TABLE player_standing DROP COLUMN flags;
DROP TRIGGER shot_moved ON shot;
DROP FUNCTION shot_moved();
DROP TRIGGER reading_moved ON reading;
DROP TRIGGER readings_came ON reading;
DROP FUNCTION reading_moved();
DROP FUNCTION readings_came();
DROP INDEX session_paired;
ALTER TABLE session DROP COLUMN paired;
