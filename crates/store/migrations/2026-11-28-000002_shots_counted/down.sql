DROP TRIGGER shots_came ON shot;
DROP TRIGGER shots_went ON shot;
DROP TRIGGER shots_moved ON shot;
DROP FUNCTION shots_came();
DROP FUNCTION shots_went();
DROP FUNCTION shots_moved();
ALTER TABLE session DROP shots;
